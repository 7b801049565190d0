import { vi } from "vitest";
import type { Answer, EndpointName } from "@/core/doors/endpoints/table";
import { REFUSALS, type Refusal } from "@/core/plain/outcome";

/** What was asked of a {@link FakeServer}. */
export interface Request {
  name: EndpointName;
  parts: Record<string, string>;
  query: Record<string, string>;
  body: unknown;
}

/** What is no JSON is answered by a response. */
type Answers = { [K in EndpointName]?: (request: Request) => Answer<K> | Response | Promise<Answer<K> | Response> };

/** A server for tests: it answers what it was told to, in the shapes that the table of endpoints says, and remembers what it was asked. */
export class FakeServer {
  readonly asked: Request[] = [];
  /** It cannot be reached. */
  away = false;

  constructor(private readonly answers: Answers) {
    vi.stubGlobal("fetch", (address: string, how: RequestInit = {}) => this.fetch(address, how));
  }

  /** Answers something else from now on. */
  now(answers: Answers): void {
    Object.assign(this.answers, answers);
  }

  /** What was asked under a name, in order. */
  of(name: EndpointName): Request[] {
    return this.asked.filter((request) => request.name === name);
  }

  private async fetch(address: string, { method = "GET", body }: RequestInit): Promise<Response> {
    if (this.away) throw new TypeError("Failed to fetch");
    const url = new URL(address, "http://lens.example");
    for (const name of Object.keys(this.answers) as EndpointName[]) {
      const parts = partsIn(name, method, url.pathname);
      if (!parts) continue;
      const query = Object.fromEntries(url.searchParams);
      const request = { name, parts, query, body: typeof body === "string" ? JSON.parse(body) : body };
      this.asked.push(request);
      try {
        const answer = await this.answers[name]?.(request);
        if (answer instanceof Response) return answer;
        return answer === null ? new Response(null, { status: 204 }) : Response.json(answer);
      } catch (error) {
        if (!(error instanceof Refusing)) throw error;
        return Response.json({ refusal: error.refusal }, { status: REFUSALS[error.refusal.code] });
      }
    }
    throw new Error(`Nobody told the fake server what to answer to ${method} ${url.pathname}.`);
  }
}

class Refusing extends Error {
  constructor(readonly refusal: Refusal) {
    super(refusal.reason);
  }
}

/** Has the server refuse. */
export function refuses(code: Refusal["code"], reason: string): never {
  throw new Refusing({ code, reason });
}

function partsIn(name: string, method: string, path: string): Record<string, string> | null {
  const [of, pattern] = name.split(" ");
  if (of !== method) return null;
  const names = [...pattern.matchAll(/\{(\w+)\}/g)].map(([, part]) => part);
  const found = new RegExp(`^${pattern.replace(/\{\w+\}/g, "([^/]+)")}$`).exec(path);
  return found && Object.fromEntries(names.map((part, i) => [part, decodeURIComponent(found[i + 1])]));
}
