import { inPersonsTurn } from "@/server/access/allowances";
import { bytesOf, numberOf } from "@/server/app/http/http";
import { serve } from "@/server/app/serve";
import { sendForm, textForm } from "@/server/text-form/text-form";

const LARGEST = 8 * 1024 * 1024;

export const GET = serve(
  "GET /api/repos/{repo}/changes/{number}/text",
  async ({ app, person, parts, query, request }) => {
    const text = await inPersonsTurn(app, person, request.signal, () =>
      textForm(app, person, parts.repo, numberOf(parts.number), { ...query, signal: request.signal }),
    );
    if (!text.ok) return text;
    return new Response(text.value, {
      headers: { "content-type": "text/plain; charset=utf-8", "cache-control": "no-store" },
    });
  },
);

export const POST = serve(
  "POST /api/repos/{repo}/changes/{number}/text",
  async ({ app, person, parts, query, request }) => {
    const bytes = await bytesOf(request, LARGEST);
    if (!bytes.ok) return bytes;
    const text = new TextDecoder().decode(bytes.value);
    return inPersonsTurn(app, person, null, () =>
      sendForm(app, person, parts.repo, numberOf(parts.number), text, { strict: query.strict === "yes" }),
    );
  },
);
