"use client";
import { valibotResolver } from "@hookform/resolvers/valibot";
import { useState } from "react";
import { useForm } from "react-hook-form";
import * as v from "valibot";
import { counted } from "@/core/plain/words";
import { type HookRequest, type HookView, hookRequest } from "@/core/views/hooks-view";
import { reasonFrom } from "../asking/ask";
import { Field } from "../parts/field";
import { SureButton } from "../parts/sure-button";
import { When } from "../parts/when";
import { askHooks } from "./ask-hooks";
import { Deliveries } from "./deliveries";

/** The kinds that most want to hear of, with words for them; everything else comes with “everything”. */
const KINDS: [HookRequest["kinds"][number], string][] = [
  ["opened", "a change set is opened"],
  ["revised", "a revision comes"],
  ["reviewed", "a review is sent"],
  ["replied", "a thread is answered"],
  ["checked", "a check tells something"],
  ["check-asked", "a check is asked for again"],
  ["merged", "a change set merges"],
  ["withdrawn", "one is withdrawn"],
];

const hookForm = v.object({
  ...hookRequest.entries,
  url: v.pipe(v.string(), v.trim(), v.url("Give an address, with https:// or http:// before it.")),
});

/** Addresses that are told what happens: added, looked at, taken away. */
export function HooksPage({
  repository,
  initial,
  within,
}: {
  /** Null for those of all repositories. */
  repository: string | null;
  initial: HookView[];
  within: boolean;
}) {
  const [hooks, setHooks] = useState(initial);
  const [open, setOpen] = useState("");
  const form = useForm({ defaultValues: { url: "", kinds: [] }, resolver: valibotResolver(hookForm) });
  const [secret, setSecret] = useState("");
  const [problem, setProblem] = useState("");
  const asks = askHooks(repository);
  const make = form.handleSubmit(async (hook) => {
    try {
      const made = await asks.make(hook);
      setHooks(made.hooks);
      setSecret(made.secret);
      form.reset();
      setProblem("");
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  });
  const drop = async (id: string) => {
    try {
      await asks.drop(id);
      setHooks((now) => now.filter((one) => one.id !== id));
      setProblem("");
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  return (
    <main className="mx-auto max-w-4xl px-6 pb-20">
      <h1 className="mt-8 font-serif text-3xl font-semibold">Other systems</h1>
      <p className="text-soft">
        Addresses that are told what happens in {repository ?? "all repositories, those that come later too"}, by a
        signed webhook. What cannot be delivered is tried again for three days, in order.
      </p>
      {problem && (
        <p role="alert" className="mt-4 rounded-md border border-l-4 border-rule border-l-clay px-3 py-2">
          {problem}
        </p>
      )}
      <ul className="mt-5 divide-y divide-rule rounded-md border border-rule bg-paper">
        {hooks.map(({ id, url: address, kinds: its, waiting, madeAt }) => (
          <li key={id} className="px-4 py-2">
            <div className="flex flex-wrap items-baseline gap-x-4">
              <code className="min-w-0 grow basis-60 break-all font-mono text-[13px]">{address}</code>
              <button
                type="button"
                className="quiet-button"
                aria-expanded={open === id}
                onClick={() => setOpen(open === id ? "" : id)}
              >
                {open === id ? "fold" : "what was sent"}
              </button>
              <SureButton yes="yes, take it away" onYes={() => void drop(id)}>
                take away …
              </SureButton>
            </div>
            <p className="text-[13px] text-soft">
              {its.length === 0 ? "everything" : its.map(wordsFor).join(", ")} · since <When at={madeAt} />
              {waiting > 0 && <span className="text-clay"> · {counted(waiting, "message")} waiting</span>}
            </p>
            {open === id && <Deliveries repository={repository} hook={id} />}
          </li>
        ))}
        {hooks.length === 0 && <li className="px-4 py-3 text-soft">No other system is told anything yet.</li>}
      </ul>
      {secret !== "" && (
        <div role="status" className="mt-4 rounded-md border border-brass bg-brass-wash px-4 py-3">
          <p>
            With this its messages are signed; it is shown this once. Whoever receives them holds the signature against
            it.
          </p>
          <code className="mt-1 block select-all break-all font-mono text-[13px]" data-testid="secret">
            {secret}
          </code>
        </div>
      )}
      <form aria-label="Tell another address" className="mt-6 grid gap-3" noValidate onSubmit={make}>
        <h2 className="font-serif text-xl font-semibold">Tell another address</h2>
        <Field
          label="Address"
          type="url"
          placeholder="https://builds.example.org/lens"
          error={form.formState.errors.url?.message}
          {...form.register("url")}
        />
        <fieldset className="flex flex-wrap gap-x-6 gap-y-1">
          <legend className="pb-1 text-[13px] text-soft">When, or nothing for everything</legend>
          {KINDS.map(([kind, words]) => (
            <label key={kind} className="flex items-center gap-2">
              <input type="checkbox" value={kind} {...form.register("kinds")} />
              {words}
            </label>
          ))}
        </fieldset>
        <p className="text-[13px] text-soft">
          {within
            ? "Machines of this network can be told, too (LENS_HOOKS_WITHIN)."
            : "Machines within this network are not told, unless the server is started with LENS_HOOKS_WITHIN=yes."}
        </p>
        <p>
          <button type="submit" className="button-main">
            Add it
          </button>
        </p>
      </form>
    </main>
  );
}

function wordsFor(kind: string): string {
  return KINDS.find(([one]) => one === kind)?.[1] ?? kind;
}
