import Link from "next/link";
import { notFound } from "next/navigation";
import { counted } from "@/core/plain/words";
import { repositoryTimes } from "@/server/house/times/times";
import { TopBar } from "@/ui/frame/top-bar";
import { Rounds, Spans } from "@/ui/times/answers";
import { Hindrances } from "@/ui/times/hindrances";
import { Loads } from "@/ui/times/loads";
import { Question } from "@/ui/times/question";
import { Waiting } from "@/ui/times/waiting";
import { visitor } from "../../../visitor";

/** How long things take in a repository, for its keepers. */
export default async function Page({ params }: { params: Promise<{ repo: string }> }) {
  const { repo } = await params;
  const { app, person, me } = await visitor(`/r/${repo}/times`);
  const found = await repositoryTimes(app, person, repo);
  if (!found.ok) notFound();
  const { answered, waiting, rounds, loads, hindrances, lone, many } = found.value;
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk", href: "/" }, { label: repo, href: `/r/${repo}` }, { label: "times" }]} />
      <main className="mx-auto max-w-4xl px-6 pb-20">
        <h1 className="mt-8 font-serif text-3xl font-semibold">How long things take</h1>
        <p className="text-soft">
          {counted(many, "change set")} of {repo}, opened in the last half year. Figures are of change sets, and nobody
          is counted by name.
        </p>
        <Spans
          question="How long until somebody answers?"
          about="From being ready to the first word of somebody else, by the week in which it was ready."
          weeks={answered}
        />
        <Waiting waiting={waiting} />
        <Hindrances hindrances={hindrances} />
        <Rounds weeks={rounds} />
        <Loads loads={loads} />
        <Question
          question="What hangs on one person?"
          about="Paths of which one person alone is the steward: while they are away, nothing under these merges."
          empty={lone.length === 0}
        >
          <ul className="divide-y divide-rule rounded-md border border-rule bg-paper">
            {lone.map(({ branches, paths, person: name }) => (
              <li key={`${branches} ${paths}`} className="px-4 py-1.5">
                <code className="font-mono text-[12.5px]">{paths}</code> into{" "}
                <code className="font-mono text-[12.5px]">{branches}</code>: {name}.{" "}
                <Link
                  prefetch={false}
                  href={`/r/${repo}/rules`}
                  className="text-slate underline underline-offset-2 hover:decoration-2"
                >
                  The rules
                </Link>
              </li>
            ))}
          </ul>
        </Question>
      </main>
    </>
  );
}
