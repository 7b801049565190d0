"use client";
import { HiddenSigns } from "./hidden-signs";

/** Where several lines are written that are sent as they stand: a message of a commit, a description. Says what of them does not show. */
export function PlainField(props: {
  label: string;
  text: string;
  onText: (text: string) => void;
  name?: string;
  /** How tall it is at least, and how it is set. */
  className: string;
}) {
  return (
    <div className="grid min-w-0 content-start gap-1">
      <label className="grid gap-1">
        <span className="text-soft">{props.label}</span>
        <textarea
          name={props.name}
          className={`field ${props.className}`}
          value={props.text}
          onChange={(event) => props.onText(event.target.value)}
        />
      </label>
      <HiddenSigns text={props.text} onText={props.onText} />
    </div>
  );
}
