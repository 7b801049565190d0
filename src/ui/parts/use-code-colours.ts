import { useSyncExternalStore } from "react";

type CodeColours = typeof import("./code-colours").codeColours;

let loaded: CodeColours | null = null;
let loading: Promise<void> | null = null;
const waiting = new Set<() => void>();

/** Loads what colours quoted code, once a page: a third of all that shows Markdown, and most texts quote none. What could not be loaded is tried again by the next who asks. */
function load(): Promise<void> {
  loading ??= import("./code-colours").then(
    ({ codeColours }) => {
      loaded = codeColours;
      for (const tell of waiting) tell();
    },
    () => {
      loading = null;
    },
  );
  return loading;
}

function whenLoaded(tell: () => void): () => void {
  waiting.add(tell);
  void load();
  return () => waiting.delete(tell);
}

const never = () => () => undefined;

/** The plugin that colours the code in a text; null until it is there, and where the text has no block of code: it is read without colours then. */
export function useCodeColours(text: string): CodeColours | null {
  const hasCode = text.includes("```") || text.includes("~~~");
  return useSyncExternalStore(
    hasCode ? whenLoaded : never,
    () => (hasCode ? loaded : null),
    () => null,
  );
}
