import { counted } from "@/core/plain/words";
import { ownTimes } from "@/server/house/times/times";
import { TopBar } from "@/ui/frame/top-bar";
import { Rounds, Spans } from "@/ui/times/answers";
import { Loads } from "@/ui/times/loads";
import { Waiting } from "@/ui/times/waiting";
import { visitor } from "../visitor";

/** How long one's own change sets take, and how long others wait for one. For nobody else's eyes. */
export default async function Page() {
  const { app, person, me } = await visitor("/times");
  const { answered, given, waiting, rounds, loads, many } = await ownTimes(app, person);
  return (
    <>
      <TopBar me={me} trail={[{ label: "Desk", href: "/" }, { label: "times" }]} />
      <main className="mx-auto max-w-4xl px-6 pb-20">
        <h1 className="mt-8 font-serif text-3xl font-semibold">How long things take you</h1>
        <p className="text-soft">
          {counted(many, "change set")} of yours, opened in the last half year. Only you see this page.
        </p>
        <Spans
          question="How long do you wait for a first answer?"
          about="From being ready to the first word of somebody else, by the week in which yours was ready."
          weeks={answered}
        />
        <Waiting waiting={waiting} />
        <Spans
          question="How long do others wait for you?"
          about="From being ready to your first word, in change sets of others to which you said something."
          weeks={given}
        />
        <Rounds weeks={rounds} />
        <Loads loads={loads} />
      </main>
    </>
  );
}
