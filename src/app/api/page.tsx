import type { Metadata } from "next";
import type { Endpoint, Who } from "@/core/doors/endpoints/endpoint";
import { isContent, refusalsOf } from "@/core/doors/endpoints/endpoint";
import { inputsOf } from "@/core/doors/endpoints/openapi";
import { ENDPOINTS } from "@/core/doors/endpoints/table";
import { REFUSALS } from "@/core/plain/outcome";
import { TopBar } from "@/ui/frame/top-bar";
import { visitor } from "../visitor";

export const metadata: Metadata = { title: "What can be asked" };

const WHO: Record<Who, string> = {
  everyone: "anyone",
  "signed-in": "who is signed in, or shows a token",
  "in-browser": "who is signed in in a browser",
  administrators: "administrators, in a browser",
};

/** Said once for all. */
const ALWAYS: ReadonlySet<string> = new Set(["unauthenticated", "internal", "unavailable"]);

/** By the first part of the address that says what it is about. */
const SUBJECTS: [heading: string, fits: (path: string) => boolean][] = [
  ["Change sets", (path) => path.includes("/changes") || path.endsWith("/preview")],
  ["Repositories", (path) => path.startsWith("/api/repos/")],
  ["Who comes in", () => true],
];

/** Everything that can be asked of the server, for people. */
export default async function Page() {
  const { me } = await visitor("/api");
  const rest = new Map(Object.entries(ENDPOINTS) as [string, Endpoint][]);
  const groups = SUBJECTS.map(([heading, fits]) => {
    const those = [...rest].filter(([name]) => fits(name.split(" ")[1]));
    for (const [name] of those) rest.delete(name);
    return { heading, those };
  });
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk", href: "/" }, { label: "What can be asked" }]} />
      <main className="mx-auto max-w-4xl px-6 py-10">
        <h1 className="font-serif text-3xl font-semibold">What can be asked of this server</h1>
        <p className="mt-3 max-w-2xl">
          The pages here ask nothing else, so whatever they do a program can do, too. It shows a{" "}
          <a className="underline" href="/tokens">
            token
          </a>{" "}
          in the header <code className="font-mono text-[0.9em]">Authorization: Bearer TOKEN</code>, and does no more
          than the token and its owner may. For programs, the same is in{" "}
          <a className="underline" href="/api/openapi.json">
            a document in the OpenAPI format
          </a>
          , and{" "}
          <a className="underline" href="/api/client.ts">
            a client in TypeScript
          </a>{" "}
          made from it.
        </p>
        <p className="mt-3 max-w-2xl">
          What is refused is answered with{" "}
          <code className="font-mono text-[0.9em]">{"{ refusal: { code, reason } }"}</code>: the code is for programs,
          the reason is a sentence for the person who asked. Anything can be answered with <em>internal</em> (500) when
          something is wrong here, or <em>unavailable</em> (503) when that will pass; and with <em>unauthenticated</em>{" "}
          (401) to who is not signed in.
        </p>
        {groups.map(({ heading, those }) => (
          <section key={heading} className="mt-10" aria-label={heading}>
            <h2 className="border-b border-rule pb-1 font-serif text-xl font-semibold">{heading}</h2>
            {those.map(([name, endpoint]) => (
              <One key={name} name={name} endpoint={endpoint} />
            ))}
          </section>
        ))}
      </main>
    </>
  );
}

function One({ name, endpoint }: { name: string; endpoint: Endpoint }) {
  const [method, path] = name.split(" ");
  const { who, does, answer } = endpoint;
  const { query, body } = inputsOf(endpoint);
  const refusals = refusalsOf(name, endpoint).filter((code) => !ALWAYS.has(code));
  return (
    <article className="border-b border-rule py-4">
      <h3 className="break-words font-mono text-[0.95em]">
        <span className="mr-2 font-semibold">{method}</span>
        {path}
      </h3>
      <p className="mt-1">{does}</p>
      <dl className="mt-2 grid grid-cols-[6rem_1fr] gap-x-3 gap-y-0.5 text-soft max-[500px]:grid-cols-1">
        <dt>for</dt>
        <dd>{WHO[who]}</dd>
        {query.length > 0 && (
          <>
            <dt>in the query</dt>
            <dd className="break-words font-mono text-[0.9em]">{query.join(", ")}</dd>
          </>
        )}
        {body && (
          <>
            <dt>body</dt>
            <dd className="break-words font-mono text-[0.9em]">{body}</dd>
          </>
        )}
        <dt>answer</dt>
        <dd>{answer === null ? "none" : isContent(answer) ? `${answer.type}: ${answer.holds}` : "JSON"}</dd>
        {refusals.length > 0 && (
          <>
            <dt>refused as</dt>
            <dd>{refusals.map((code) => `${code} (${REFUSALS[code]})`).join(", ")}</dd>
          </>
        )}
      </dl>
    </article>
  );
}
