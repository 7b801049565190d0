"use client";
import { useRouter } from "next/navigation";
import { type FormEvent, useState } from "react";
import { counted } from "@/core/plain/words";
import { ask, reasonFrom } from "../asking/ask";
import { useAsked } from "../asking/use-asked";
import { useDraft } from "../kept/use-draft";
import { SafeMarkdown } from "../parts/markdown";
import { When } from "../parts/when";
import { PlainField } from "../words/plain-field";
import { type Branch, BranchField } from "./branch-field";
import { WhomToAsk } from "./whom-to-ask";

/** What is typed; null for what nobody has touched, which is as the branch proposes it. */
interface Opening {
  title: string | null;
  description: string | null;
  draft: boolean;
  /** Ids of people. */
  invited: string[] | null;
}

/** From a branch and a target to a change set. What would be refused is said before it is asked for. */
export function OpenChange({
  repository,
  branches,
  source: given,
  target: into,
}: {
  repository: string;
  branches: Branch[];
  source: string;
  target: string;
}) {
  const router = useRouter();
  const [source, setSource] = useState(given);
  const [target, setTarget] = useState(into);
  const kept = useDraft<Opening>(`open ${repository}`, { title: null, description: null, draft: false, invited: null });
  const change = (part: Partial<typeof kept.value>) => kept.change({ ...kept.value, ...part });
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const preview = useAsked({
    queryKey: ["preview", repository, source, target],
    enabled: source !== "" && target !== "",
    retry: false,
    queryFn: ({ signal }) =>
      ask("GET /api/repos/{repo}/preview", {
        parts: { repo: repository },
        query: { source, target },
        signal,
      }),
  });
  const commits = preview.data?.commits ?? [];
  const reviewers = preview.data?.reviewers ?? [];
  const { draft } = kept.value;
  const title = kept.value.title ?? commits.at(-1)?.subject ?? "";
  const description = kept.value.description ?? preview.data?.description ?? "";
  const invited = (kept.value.invited ?? reviewers.flatMap(({ id, steward }) => (steward ? [id] : []))).filter((id) =>
    reviewers.some((one) => one.id === id),
  );
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    setProblem("");
    try {
      const body = { source, target, title, description, draft, invited };
      const { number } = await ask("POST /api/repos/{repo}/changes", { parts: { repo: repository }, body });
      kept.forget();
      router.push(`/r/${repository}/c/${number}`);
    } catch (error) {
      setProblem(reasonFrom(error));
      setBusy(false);
    }
  };
  if (branches.length < 2) return <OneBranch only={branches[0]?.name ?? null} />;
  return (
    <form onSubmit={submit} className="mt-6 grid gap-5">
      <div className="grid grid-cols-2 gap-4 max-[560px]:grid-cols-1">
        <BranchField
          label="Branch to offer"
          name="source"
          value={source}
          onChange={setSource}
          branches={branches.filter(({ name }) => name !== target)}
        />
        <BranchField label="into" name="target" value={target} onChange={setTarget} branches={branches} />
      </div>
      <div aria-live="polite" className="rounded-md border border-rule bg-paper px-4 py-3">
        {source === "" && <p className="text-soft">Choose the branch to offer; what it would bring is shown here.</p>}
        {preview.isFetching && <p className="text-soft">Comparing the branches …</p>}
        {!preview.isFetching && preview.error && <p className="text-clay">{reasonFrom(preview.error)}</p>}
        {!preview.isFetching && commits.length > 0 && (
          <>
            <p className="font-semibold">
              {counted(commits.length, "commit")} of {source}
              {commits.length === 200 ? " or more" : ""}
            </p>
            <ul className="mt-1 max-h-40 overflow-auto">
              {commits.map((commit) => (
                <li key={commit.id} className="flex gap-3">
                  <code className="font-mono text-[12px] leading-6 text-faint">{commit.id.slice(0, 8)}</code>
                  <span className="min-w-0 flex-1 truncate">{commit.subject}</span>
                  <span className="text-soft max-[560px]:hidden">
                    {commit.author} · <When at={commit.at} />
                  </span>
                </li>
              ))}
            </ul>
          </>
        )}
      </div>
      <label className="grid gap-1">
        <span className="text-soft">Title</span>
        <input
          name="title"
          className="field font-serif text-[17px]"
          value={title}
          maxLength={200}
          onChange={(e) => change({ title: e.target.value })}
        />
      </label>
      <div className="grid grid-cols-2 gap-4 max-[560px]:grid-cols-1">
        <PlainField
          label="Why, for whoever reads it (Markdown)"
          name="description"
          className="min-h-44 font-mono text-[13px]"
          text={description}
          onText={(next) => change({ description: next })}
        />
        <div className="grid min-w-0 content-start gap-1">
          <span className="text-soft">As it will look</span>
          <div className="min-h-44 overflow-x-auto break-words rounded-md border border-rule bg-paper px-3 py-2 font-serif">
            {description.trim() === "" ? (
              <span className="text-faint">Nothing yet.</span>
            ) : (
              <SafeMarkdown text={description} />
            )}
          </div>
        </div>
      </div>
      {reviewers.length > 0 && (
        <WhomToAsk people={reviewers} invited={invited} onInvited={(next) => change({ invited: next })} />
      )}
      <div className="flex flex-wrap items-center justify-between gap-4">
        <div role="alert" className="text-clay">
          {problem}
        </div>
        <label className="ml-auto flex flex-none items-center gap-2">
          <input type="checkbox" name="draft" checked={draft} onChange={(e) => change({ draft: e.target.checked })} />
          as a draft: nobody is asked yet
        </label>
        <button type="submit" className="button-main flex-none" disabled={busy || source === "" || preview.isError}>
          {busy ? "Opening …" : draft ? "Open the draft" : "Open the change set"}
        </button>
      </div>
    </form>
  );
}

/** There is nothing to offer yet: what to do about it. */
function OneBranch({ only }: { only: string | null }) {
  return (
    <div className="mt-6 rounded-md border border-dashed border-rule px-4 py-3">
      <p>
        {only === null
          ? "There is no branch here yet."
          : `There is only one branch here, ${only}: nothing that could be offered to it.`}{" "}
        Make one of your work and push it; then it can be chosen here.
      </p>
      <pre className="mt-2 overflow-x-auto rounded bg-well px-3 py-2 font-mono text-[12.5px]">
        {only === null ? "git push origin HEAD:main" : "git switch -c my-change\ngit push -u origin my-change"}
      </pre>
    </div>
  );
}
