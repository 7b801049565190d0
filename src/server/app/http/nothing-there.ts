import type { IncomingMessage, ServerResponse } from "node:http";
import { ENDPOINTS } from "@/core/doors/endpoints/table";
import { REFUSALS, type Refusal } from "@/core/plain/outcome";
import { listed } from "@/core/plain/words";
import { GUARDS } from "./http";

interface Address {
  segments: string[];
  method: string;
}

/** What is asked at the addresses of the table, by how many segments they have and the one behind `/api/`, which is a word in each. */
const ADDRESSES = new Map<string, Address[]>();
for (const name of Object.keys(ENDPOINTS)) {
  const [method, path] = name.split(" ");
  const segments = path.split("/");
  const like = ADDRESSES.get(kindOf(segments)) ?? [];
  ADDRESSES.set(kindOf(segments), [...like, { segments, method }]);
}

/**
 * Tells a program that there is nothing where it asks below `/api/`, or not by this method, as any other refusal; false where there is something. Who
 * wants a page there is shown the one that says so, and what an address comes down to that is written in another way the framework says.
 */
export function saidNothingThere(request: IncomingMessage, response: ServerResponse, path: string): boolean {
  const method = request.method === "HEAD" ? "GET" : (request.method ?? "GET");
  if (!path.startsWith("/api/") || path.endsWith("/") || path.includes("//") || method === "OPTIONS") return false;
  const methods = methodsAt(path);
  if (methods.includes(method)) return false;
  if (methods.length === 0 && request.headers.accept?.includes("text/html")) return false;
  const reason =
    methods.length > 0
      ? `This address is asked by ${listed(methods, "or")}, not by ${method}.`
      : `There is nothing at this address. What there is, /api tells.`;
  const refusal: Refusal = { code: "missing", reason };
  const allow = methods.length > 0 ? { allow: methods.join(", ") } : {};
  const headers = { ...GUARDS, ...allow, "content-type": "application/json", "cache-control": "no-store" };
  response.writeHead(methods.length > 0 ? 405 : REFUSALS.missing, headers);
  response.end(JSON.stringify({ refusal }));
  return true;
}

/** The methods by which something can be asked at a path, if any. */
function methodsAt(path: string): string[] {
  const asked = path.split("/");
  const like = ADDRESSES.get(kindOf(asked)) ?? [];
  const fits = ({ segments }: Address) => segments.every((one, at) => one.startsWith("{") || one === asked[at]);
  return [...new Set(like.filter(fits).map(({ method }) => method))];
}

function kindOf(segments: readonly string[]): string {
  return `${segments.length} ${segments[2]}`;
}
