"use client";
import { DropdownMenu } from "radix-ui";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { inFigures, listed } from "@/core/plain/words";
import type { Invited } from "@/core/review/shapes";
import { goesOn, newest, revisionName, sinceWhen, standings } from "@/core/review/state";
import type { Progress } from "@/core/views/api";
import { PersonMark } from "../../parts/person-mark";
import { byName, nameIn, useChangeSet } from "../state/context";
import { useDo } from "../state/use-do";
import { useProgress } from "../state/use-progress";

/** Who was asked to review, who did, how far each has come and where they stand. */
export function Reviewers() {
  const { view } = useChangeSet();
  const act = useDo();
  const progress = useProgress();
  const called = (one: Invited) => ("person" in one ? nameIn(view, one.person) : `Every ${one.role}`);
  const askFor = (one: Invited) =>
    void act({
      request: { kind: "ask", invited: [one] },
      says: `${called(one)} ${view.state === "draft" ? "will be asked when it is ready" : "was asked"}.`,
      undo: { kind: "unask", invited: one },
    });
  const withdraw = (one: Invited) =>
    void act({
      request: { kind: "unask", invited: one },
      says: `${called(one)} is not asked any more.`,
      undo: { kind: "ask", invited: [one] },
    });
  const lookAgain = (people: string[]) =>
    void act({
      request: { kind: "ask-again", people },
      says: `${listed(people.map((id) => nameIn(view, id)))} ${people.length === 1 ? "was" : "were"} asked to look again.`,
    });
  const people = involved(view, progress);
  const roles = view.asked.flatMap((one) => ("role" in one ? [one] : []));
  const mayAsk = view.me.ask.may;
  // Those who have said something and may not have seen the newest.
  const again = view.lookAgain.filter(
    (id) => view.reviews.some(({ by }) => by === id) && !view.people[id]?.machine && id !== view.me.id,
  );
  const askable = view.reviewers.filter(
    (id) => id !== view.author && !view.asked.some((one) => "person" in one && one.person === id),
  );
  return (
    <section aria-label="Reviewers" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">Reviewers</h2>
      <ul className="mt-1 divide-y divide-rule">
        {people.map((id) => (
          <li key={id} className="flex items-center gap-2 py-1.5">
            <PersonMark name={nameIn(view, id)} portrait={view.people[id]} size={22} />
            <span className="min-w-0 flex-1">
              <span className="block truncate">{nameIn(view, id)}</span>
              <span className="block text-[13px] text-soft">{standingWords(view, id, progress?.[id])}</span>
            </span>
            {isAsked(view, id) && id === view.me.id && goesOn(view) && (
              <button
                type="button"
                className="quiet-button text-[13px]"
                onClick={() => void act({ request: { kind: "step-back" }, says: "You are not asked any more." })}
              >
                step back
              </button>
            )}
            {view.state === "open" &&
              mayAsk &&
              view.lookAgain.includes(id) &&
              id !== view.me.id &&
              view.reviews.some(({ by }) => by === id) && (
                <button
                  type="button"
                  className="quiet-button text-[13px]"
                  aria-label={`Ask ${nameIn(view, id)} to look again`}
                  onClick={() => lookAgain([id])}
                >
                  look again?
                </button>
              )}
            {isAsked(view, id) && id !== view.me.id && mayAsk && (
              <button
                type="button"
                className="quiet-button text-[13px]"
                aria-label={`Withdraw: do not ask ${nameIn(view, id)} any longer`}
                onClick={() => withdraw({ person: id })}
              >
                withdraw
              </button>
            )}
          </li>
        ))}
        {roles.map(({ role }) => (
          <li key={role} className="flex items-center gap-2 py-1.5">
            <span className="flex-1">Any {role}</span>
            {mayAsk && (
              <button type="button" className="quiet-button text-[13px]" onClick={() => withdraw({ role })}>
                withdraw
              </button>
            )}
          </li>
        ))}
      </ul>
      {people.length + roles.length === 0 && <p className="text-soft">Nobody was asked yet, and nobody has begun.</p>}
      {view.state === "open" && mayAsk && again.length > 1 && (
        <button type="button" className="button mt-2 mr-2" onClick={() => lookAgain(again)}>
          Ask all {again.length} to look again
        </button>
      )}
      {mayAsk && <AskMenu people={askable.map((id) => ({ id, name: nameIn(view, id) }))} onAsk={askFor} />}
    </section>
  );
}

function AskMenu({
  people,
  onAsk,
}: {
  people: { id: string; name: string }[];
  onAsk: (invited: { person: string } | { role: "contributor" | "keeper" }) => void;
}) {
  const item = "cursor-pointer rounded px-3 py-1 outline-none data-[highlighted]:bg-brass-wash";
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="button mt-2">Ask for a review …</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={4} className="sheet z-40 max-h-80 overflow-y-auto p-1.5">
          {people.map(({ id, name }) => (
            <DropdownMenu.Item key={id} className={item} onSelect={() => onAsk({ person: id })}>
              {name}
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          <DropdownMenu.Item className={item} onSelect={() => onAsk({ role: "contributor" })}>
            any contributor
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => onAsk({ role: "keeper" })}>
            any keeper
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function isAsked({ asked }: ChangeView, id: string): boolean {
  return asked.some((one) => "person" in one && one.person === id);
}

/** Those who were asked first, then those who came by themselves. */
function involved(view: ChangeView, progress: Record<string, Progress> | undefined): string[] {
  const ids = new Set(view.asked.flatMap((one) => ("person" in one ? [one.person] : [])));
  for (const { by } of view.reviews) ids.add(by);
  for (const [id, { read }] of Object.entries(progress ?? {})) if (read > 0) ids.add(id);
  ids.delete(view.author);
  return [...ids].filter((id) => view.people[id] && !view.people[id].machine);
}

function standingWords(view: ChangeView, id: string, progress: Progress | undefined): string {
  const standing = standings(view).find(({ person }) => person === id);
  const current = newest(view).number;
  const words: string[] = [];
  const has = id === view.me.id ? "have" : "has";
  const again = view.again.find(({ person }) => person === id);
  if (again) words.push(`asked to look again at r${again.revision}`);
  const asking = view.asked.find((one) => "person" in one && one.person === id);
  if (standing) {
    const verdict =
      standing.verdict === "approve" ? "approved" : id === view.me.id ? "ask for changes in" : "asks for changes in";
    words.push(
      `${verdict} ${revisionName(standing.revision)}${standing.revision >= current ? "" : standing.revision >= sinceWhen(view) ? ", and the newest is a rebase alone" : ", before the newest"}`,
    );
  } else if (view.reviews.some(({ by }) => by === id)) words.push(`${has} remarked, without a verdict`);
  else if (asking) words.push(`asked by ${byName(view, asking.by)}`);
  if (progress && progress.total > 0)
    words.push(
      progress.read >= progress.total
        ? `${has} read all of r${current}`
        : `${has} read ${inFigures(progress.read)} of ${inFigures(progress.total)} lines`,
    );
  return words.length > 0 ? words.join(" · ") : `${has} not begun`;
}
