import { type CodeAction, CodeActionKind } from "vscode-languageserver/node";
import type { LineMap } from "@/core/doors/editor/placed";
import type { Thread } from "@/core/review/state";

/** The suggestions of a thread as edits of a document, where their lines still say what they did. `text` is what it holds now. */
export function takingsOf({ suggestions }: Thread, uri: string, map: LineMap, text: string): CodeAction[] {
  return suggestions.flatMap(({ start, end, was, lines, taken }): CodeAction[] => {
    const there = taken ? null : map.toWorking(start, end);
    if (!there || there.edited) return [];
    const now = map.working.slice(there.start - 1, there.end).map((line) => line.replace(/\r$/, ""));
    if (now.length !== was.length || now.some((line, i) => line !== was[i])) return [];
    const eol = text.includes("\r\n") ? "\r\n" : "\n";
    const range = { start: { line: there.start - 1, character: 0 }, end: { line: there.end, character: 0 } };
    const newText = lines.map((line) => line + eol).join("");
    return [
      {
        title: "Take this suggestion",
        kind: CodeActionKind.QuickFix,
        edit: { changes: { [uri]: [{ range, newText }] } },
      },
    ];
  });
}
