import { chooseHue } from "@/server/access/portraits";
import { serve } from "@/server/app/serve";

export const PUT = serve("PUT /api/portrait", ({ app, person, body }) => chooseHue(app, person, body.hue));
