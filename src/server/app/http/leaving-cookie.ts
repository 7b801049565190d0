import * as v from "valibot";
import type { Leaving } from "../../access/signing-in/provider";
import { cookieOf } from "./http";

/** What a browser keeps while its person is at the provider for signing in. What it says has to be the same as what the provider gives back. */
const NAME = "lens_leaving";
/** In seconds: so long one may take at the provider. */
const LASTS = 600;

const shape = v.object({ state: v.string(), nonce: v.string(), verifier: v.string(), next: v.string() });

/** The `Set-Cookie` line that keeps it, or with null takes it out. */
export function leavingCookie(leaving: Leaving | null, secure: boolean): string {
  const value = leaving ? Buffer.from(JSON.stringify(leaving)).toString("base64url") : "";
  const life = leaving ? LASTS : 0;
  return `${NAME}=${value}; Path=/api/sign-in; HttpOnly; SameSite=Lax; Max-Age=${life}${secure ? "; Secure" : ""}`;
}

export function leavingOf(request: Request): Leaving | null {
  try {
    const read = v.safeParse(shape, JSON.parse(Buffer.from(cookieOf(request, NAME) ?? "", "base64url").toString()));
    return read.success ? read.output : null;
  } catch {
    return null;
  }
}
