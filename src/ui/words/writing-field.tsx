"use client";
import { type KeyboardEvent, useRef, useState } from "react";
import { ask, reasonFrom } from "../asking/ask";
import { atEnd } from "../focus/at-end";
import { SafeMarkdown } from "../parts/markdown";
import { HiddenSigns } from "./hidden-signs";

/** Where Markdown is written: with a preview, and pictures that are pasted or dropped kept by the server. */
export function WritingField(props: {
  label: string;
  repository: string;
  text: string;
  onText: (text: string) => void;
  onKeyDown?: (event: KeyboardEvent<HTMLTextAreaElement>) => void;
  placeholder?: string;
  /** It opens because the person asked to write. */
  focus?: boolean;
  name?: string;
  className?: string;
}) {
  const { label, repository, text, onText } = props;
  const [preview, setPreview] = useState(false);
  const [problem, setProblem] = useState("");
  const latest = useRef(text);
  latest.current = text;

  const put = async (files: FileList | null, at: number) => {
    const images = [...(files ?? [])].filter(({ type }) => type.startsWith("image/"));
    for (const image of images) {
      const name = image.name.replace(/[[\]()\n]/g, "") || "picture";
      const waiting = `![keeping ${name} …]()`;
      onText(`${latest.current.slice(0, at)}${waiting}${latest.current.slice(at)}`);
      try {
        const { address } = await ask("POST /api/repos/{repo}/images", { parts: { repo: repository }, body: image });
        onText(latest.current.replace(waiting, `![${name}](${address})`));
        setProblem("");
      } catch (error) {
        onText(latest.current.replace(waiting, ""));
        setProblem(reasonFrom(error));
      }
    }
    return images.length > 0;
  };
  return (
    <div className="mt-1">
      {preview ? (
        <section
          aria-label="Preview"
          className="max-h-80 min-h-20 overflow-y-auto rounded-md border border-rule px-3 py-1.5"
        >
          {text.trim() === "" ? <p className="text-faint">Nothing to show yet.</p> : <SafeMarkdown text={text} />}
        </section>
      ) : (
        <textarea
          ref={props.focus ? atEnd : undefined}
          name={props.name}
          aria-label={label}
          className={`field text-[14px] ${props.className ?? "min-h-20"}`}
          placeholder={props.placeholder}
          value={text}
          onChange={(event) => onText(event.target.value)}
          onKeyDown={props.onKeyDown}
          onPaste={(event) => {
            if (event.clipboardData.files.length === 0) return;
            event.preventDefault();
            void put(event.clipboardData.files, event.currentTarget.selectionStart);
          }}
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            if (event.dataTransfer.files.length === 0) return;
            event.preventDefault();
            void put(event.dataTransfer.files, event.currentTarget.selectionStart);
          }}
        />
      )}
      <HiddenSigns text={text} onText={onText} />
      <p className="flex gap-3 text-[12.5px] text-faint">
        <button type="button" className="quiet-button" aria-pressed={preview} onClick={() => setPreview(!preview)}>
          {preview ? "write" : "preview"}
        </button>
        <span className="min-w-0 flex-1 truncate">Markdown; pictures can be pasted</span>
      </p>
      {problem && (
        <p role="alert" className="text-clay">
          {problem}
        </p>
      )}
    </div>
  );
}
