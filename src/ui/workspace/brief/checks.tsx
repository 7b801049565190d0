"use client";
import { visible, visibleWords } from "@/core/cautions/visible";
import type { Finding } from "@/core/checks/report";
import type { ChangeView } from "@/core/doors/endpoints/change-view";
import { counted } from "@/core/plain/words";
import { atLeast } from "@/core/review/roles";
import type { CheckState } from "@/core/review/shapes";
import { goesOn } from "@/core/review/state";
import { checksOf } from "@/core/rules/checks";
import type { FindingsView } from "@/core/views/keeping-view";
import { ask } from "../../asking/ask";
import { useAsked } from "../../asking/use-asked";
import { When } from "../../parts/when";
import { useAttention, useChangeSet, useTell } from "../state/context";
import { Log, useLogs } from "./check-log";

/** What the checks of the newest revision found; asked for anew when one has reported. */
export function useFindings(view: ChangeView): FindingsView[] | undefined {
  const place = { repo: view.repository, number: String(view.number) };
  const reports = checksOf(view).flatMap(({ report }) => report ?? []);
  const { data } = useAsked({
    queryKey: ["findings", place, ...reports],
    queryFn: ({ signal }) => ask("GET /api/repos/{repo}/changes/{number}/findings", { parts: place, signal }),
    enabled: reports.length > 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data;
}

const LOOKS: Record<CheckState, { sign: string; words: string; look: string }> = {
  waiting: { sign: "·", words: "waiting", look: "text-soft" },
  running: { sign: "…", words: "running", look: "text-brass" },
  passed: { sign: "✓", words: "passed", look: "text-teal" },
  failed: { sign: "✗", words: "failed", look: "text-clay" },
  skipped: { sign: "–", words: "skipped", look: "text-soft" },
};

/** The checks of the newest revision: those that the rule asks for first, then those that only inform. */
export function Checks() {
  const { view, command } = useChangeSet();
  const tell = useTell();
  const found = useFindings(view);
  const logs = useLogs(view);
  const mayAsk = goesOn(view) && atLeast(view.me.role, "contributor");
  const here = checksOf(view);
  const needed = view.rule.checks;
  // What was settled before a rule asked for it is waited for by nobody.
  const missing = goesOn(view) ? needed.filter((name) => !here.some((one) => one.name === name)) : [];
  if (here.length === 0 && missing.length === 0) return null;
  const rank = (name: string) => (needed.includes(name) ? needed.indexOf(name) : needed.length);
  const sorted = [...here].sort((a, b) => rank(a.name) - rank(b.name) || a.name.localeCompare(b.name));
  return (
    <section aria-label="Checks" className="mt-8">
      <h2 className="font-serif text-xl font-semibold">Checks of r{view.revisions.length}</h2>
      <ul className="mt-1 divide-y divide-rule">
        {sorted.map(({ name, by, state, summary, link, at }) => {
          const asked = needed.includes(name);
          const { sign, words, look } = LOOKS[state];
          // What only informs does not look as if it held anything up.
          const colour = !asked && state === "failed" ? "text-ochre" : look;
          const mine = found?.find(({ check }) => check === name);
          const log = logs?.find((one) => one.name === name && one.by === by);
          const goes = state === "waiting" || state === "running";
          return (
            <li key={`${name} ${by}`} className="py-1.5">
              <p className="flex items-baseline gap-2">
                <span className={`flex-none text-[13px] font-semibold ${colour}`}>
                  {sign} {words}
                </span>
                <span className="min-w-0 flex-1">{visibleWords(name)}</span>
                <span className="flex-none text-[12.5px] text-faint">{asked ? "must pass" : "informs"}</span>
              </p>
              {summary !== "" && (
                <p className="text-[13px] text-soft">
                  {visibleWords(summary)}, <When at={at} />
                </p>
              )}
              {link !== "" && (
                <a
                  className="text-[13px] text-slate underline underline-offset-2 hover:decoration-2"
                  href={link}
                  target="_blank"
                  rel="noreferrer noopener"
                >
                  more at {new URL(link).host}
                </a>
              )}
              {mine && <Found found={mine} />}
              {log && <Log log={log} goes={goes} />}
              {mayAsk && !goes && (
                <button
                  type="button"
                  className="quiet-button min-h-[24px] text-[13px]"
                  aria-label={`Run again: ${visibleWords(name)}`}
                  onClick={async () => {
                    const refusal = await command({ kind: "check-again", name });
                    if (refusal) tell(refusal);
                  }}
                >
                  run again
                </button>
              )}
            </li>
          );
        })}
        {missing.map((name) => (
          <li key={name} className="flex items-baseline gap-2 py-1.5">
            <span className="flex-none text-[13px] font-semibold text-soft">· not reported yet</span>
            <span className="min-w-0 flex-1">{name}</span>
            <span className="flex-none text-[12.5px] text-faint">must pass</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Found({ found: { findings, more } }: { found: FindingsView }) {
  const all = findings.length + more;
  if (all === 0) return null;
  const shown = findings.slice(0, 50);
  return (
    <details className="text-[13px]">
      <summary className="cursor-pointer text-slate">show {counted(all, "finding")}</summary>
      <ul className="mt-1 grid gap-1.5">
        {shown.map((finding, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: findings have no other name
          <li key={i}>
            <FindingPlace finding={finding} />
            <p className="line-clamp-3 break-words whitespace-pre-line text-soft">{visibleWords(finding.message)}</p>
          </li>
        ))}
      </ul>
      {all > shown.length && <p className="text-soft">and {all - shown.length} more</p>}
    </details>
  );
}

function FindingPlace({ finding: { name, path, line } }: { finding: Finding }) {
  const { view } = useChangeSet();
  const { goTo } = useAttention();
  const revision = view.revisions.length;
  const label = (
    <>
      <span className="font-semibold">{visibleWords(name)}</span>
      {path && (
        <code className="block truncate font-mono text-[12px]">
          {visible(path)}
          {line !== null && `:${line}`}
        </code>
      )}
    </>
  );
  if (!path) return label;
  const at = line ?? 1;
  return (
    <button
      type="button"
      className="block w-full text-left hover:underline"
      onClick={() => goTo({ kind: "lines", revision, blob: "", side: "new", path, start: at, end: at, text: [] }, null)}
    >
      {label}
    </button>
  );
}
