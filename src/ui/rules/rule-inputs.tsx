"use client";
import { type ReactNode, useState } from "react";

export function Remove({ onRemove }: { onRemove: () => void }) {
  return (
    <button type="button" className="quiet-button pb-1.5 text-clay" onClick={onRemove}>
      remove
    </button>
  );
}

export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <fieldset className="grid gap-1.5">
      <legend className="pb-1 font-semibold">{title}</legend>
      {children}
    </fieldset>
  );
}

export function Tick({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-2">
      <input type="checkbox" checked={on} onChange={(event) => onChange(event.target.checked)} />
      {label}
    </label>
  );
}

function Labelled({ label, children }: { label: string; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the field is among the children
    <label className="grid gap-0.5 text-[13px] text-soft">
      {label}
      {children}
    </label>
  );
}

export function Words({
  label,
  value,
  mono = false,
  onChange,
}: {
  label: string;
  value: string | null;
  mono?: boolean;
  onChange: (value: string | null) => void;
}) {
  return (
    <Labelled label={label}>
      <input
        className={`field text-ink ${mono ? "font-mono text-[13px]" : ""}`}
        value={value ?? ""}
        onChange={(event) => onChange(event.target.value === "" ? null : event.target.value)}
      />
    </Labelled>
  );
}

export function Amount({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number | null;
  onChange: (value: number | null) => void;
}) {
  return (
    <Labelled label={label}>
      <input
        className="field text-ink"
        inputMode="numeric"
        value={value ?? ""}
        onChange={(event) => {
          const digits = event.target.value.replaceAll(/\D/g, "").slice(0, 7);
          onChange(digits === "" ? null : Number(digits));
        }}
      />
    </Labelled>
  );
}

/** The names in a text, parted by commas or lines. */
export function namesIn(words: string): string[] {
  return words
    .split(/[,\n]+/)
    .map((one) => one.trim())
    .filter((one) => one !== "");
}

/** Several names in one field, parted by commas; what is typed is taken when the field is left. */
export function List({
  label,
  value,
  known,
  onChange,
}: {
  label: string;
  value: readonly string[];
  known: readonly string[];
  onChange: (value: string[]) => void;
}) {
  const [text, setText] = useState(value.join(", "));
  const strange =
    known.length > 0
      ? namesIn(text).filter((name) => !known.includes(name) && name !== "contributor" && name !== "keeper")
      : [];
  return (
    <Labelled label={label}>
      <input
        className="field text-ink"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          onChange(namesIn(event.target.value));
        }}
      />
      {strange.length > 0 && (
        <span className="text-clay">{strange.join(", ")}: not among those who may approve here</span>
      )}
    </Labelled>
  );
}

/** A time as the browser's own field takes it: minutes, without a zone; it is meant as UTC. */
export function Moment({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
}) {
  return (
    <Labelled label={label}>
      <input
        type="datetime-local"
        className="field text-ink"
        value={value.slice(0, 16)}
        onChange={(event) => event.target.value !== "" && onChange(`${event.target.value}:00Z`)}
      />
    </Labelled>
  );
}
