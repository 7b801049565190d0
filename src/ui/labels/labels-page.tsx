"use client";
import Link from "next/link";
import { type FormEvent, useState } from "react";
import { FLAGS, type Flag, type Label } from "@/core/house/labels/labels";
import { ask } from "../asking/ask";
import { useCarried } from "../asking/use-carried";
import { SureButton } from "../parts/sure-button";
import { FlagMark } from "./label-tag";

const NONE: Label = { name: "", flag: "plain", about: "", paths: [] };

/** The labels of a repository: keepers name them, and say which paths give them by themselves. */
export function LabelsPage(props: { repository: string; initial: Label[]; mayEdit: boolean }) {
  const { repository, initial, mayEdit } = props;
  const [labels, setLabels] = useState(initial);
  const [edited, setEdited] = useState<Label | null>(null);
  const { carry, ending } = useCarried();
  const parts = { repo: repository };
  const keep = (label: Label) =>
    carry(async () => {
      setLabels(await ask("PUT /api/repos/{repo}/labels", { parts, body: label }));
      setEdited(null);
    }, `${label.name} is kept.`);
  const drop = ({ name }: Label) =>
    carry(
      async () => setLabels(await ask("DELETE /api/repos/{repo}/labels/{name}", { parts: { ...parts, name } })),
      `${name} is no label any more.`,
    );
  return (
    <main className="mx-auto max-w-4xl px-6 pb-20">
      <h1 className="mt-8 font-serif text-3xl font-semibold">Labels</h1>
      <p className="mb-4 text-soft">
        What change sets of {repository} can be sorted by. Whoever takes part gives them; what touches one of a label’s
        paths has it by itself.
      </p>
      {ending}
      <ul className="divide-y divide-rule rounded-md border border-rule bg-paper">
        {labels.map((label) => (
          <li key={label.name} className="px-4 py-2">
            {edited?.name === label.name ? (
              <LabelForm label={label} onKeep={keep} onClose={() => setEdited(null)} />
            ) : (
              <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
                <Link
                  prefetch={false}
                  href={`/lists?${new URLSearchParams({ q: `label:${label.name} in:${repository}` })}`}
                  className="flex items-baseline gap-2 font-semibold hover:underline"
                >
                  <FlagMark flag={label.flag} />
                  {label.name}
                </Link>
                <span className="min-w-0 flex-1 text-soft">
                  {label.about}
                  {label.paths.length > 0 && (
                    <span className="block font-mono text-[12px]">{label.paths.join("  ")}</span>
                  )}
                </span>
                {mayEdit && (
                  <>
                    <button
                      type="button"
                      className="quiet-button"
                      aria-label={`Change ${label.name}`}
                      onClick={() => setEdited(label)}
                    >
                      change
                    </button>
                    <SureButton about={label.name} yes="yes, from all change sets" onYes={() => void drop(label)}>
                      take away …
                    </SureButton>
                  </>
                )}
              </div>
            )}
          </li>
        ))}
        {labels.length === 0 && <li className="px-4 py-3 text-soft">There are none yet.</li>}
      </ul>
      {mayEdit &&
        (edited?.name === "" ? (
          <div className="mt-4 rounded-md border border-rule bg-paper px-4 py-3">
            <LabelForm label={NONE} onKeep={keep} onClose={() => setEdited(null)} />
          </div>
        ) : (
          <button type="button" className="button mt-4" onClick={() => setEdited(NONE)}>
            Another label …
          </button>
        ))}
    </main>
  );
}

function LabelForm(props: { label: Label; onKeep: (label: Label) => Promise<void>; onClose: () => void }) {
  const { label, onKeep, onClose } = props;
  const [name, setName] = useState(label.name);
  const [flag, setFlag] = useState<Flag>(label.flag);
  const [about, setAbout] = useState(label.about);
  const [paths, setPaths] = useState(label.paths.join("\n"));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const said = paths.split("\n").map((path) => path.trim());
    void onKeep({
      name: name.trim().toLowerCase(),
      flag,
      about: about.trim(),
      paths: said.filter((path) => path !== ""),
    });
  };
  return (
    <form onSubmit={submit} className="grid gap-3">
      {label.name === "" ? (
        <label className="grid max-w-72 gap-1">
          <span className="text-soft">Name, such as tide-tables</span>
          <input
            className="field"
            // biome-ignore lint/a11y/noAutofocus: it was asked for by the press before
            autoFocus
            required
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
      ) : (
        <p className="font-semibold">{label.name}</p>
      )}
      <fieldset className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <legend className="text-soft">Flag</legend>
        {FLAGS.map((one) => (
          <label key={one} className="flex cursor-pointer items-center gap-1.5 py-1">
            <input type="radio" name="flag" checked={one === flag} onChange={() => setFlag(one)} />
            <FlagMark flag={one} />
            {one}
          </label>
        ))}
      </fieldset>
      <label className="grid gap-1">
        <span className="text-soft">What it is for</span>
        <input className="field" maxLength={200} value={about} onChange={(event) => setAbout(event.target.value)} />
      </label>
      <label className="grid gap-1">
        <span className="text-soft">
          Paths that give it by themselves, one on each line, such as tariff/** or *.sql
        </span>
        <textarea
          className="field font-mono text-[12.5px]"
          rows={3}
          value={paths}
          onChange={(event) => setPaths(event.target.value)}
        />
      </label>
      <p className="flex gap-3">
        <button type="submit" className="button-main">
          Keep
        </button>
        <button type="button" className="quiet-button" onClick={onClose}>
          cancel
        </button>
      </p>
    </form>
  );
}
