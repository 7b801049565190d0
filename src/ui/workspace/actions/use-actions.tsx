"use client";
import { createContext, type ReactNode, useContext, useLayoutEffect, useMemo, useRef } from "react";
import { isLoneKey, useLoneKeys } from "../../focus/lone-keys";
import { isCovered, isTypedInto } from "../../focus/taken";
import { ACTION_IDS, type ActionId, BY_KEY, keyOf } from "./actions";

/** What happens when an action is chosen. Null: it cannot be done just now. Left out: another part of the page knows. */
export type Handlers = { [K in ActionId]?: (() => void) | null };

/** What the parts of the page can do now. Those that came last are asked first. */
export class Registry {
  private readonly parts: { current: Handlers }[] = [];

  /** Adds the handlers of a part; gives what takes them out again. */
  add(part: { current: Handlers }): () => void {
    this.parts.push(part);
    return () => {
      this.parts.splice(this.parts.indexOf(part), 1);
    };
  }

  handlerOf(id: ActionId): (() => void) | null {
    for (let i = this.parts.length - 1; i >= 0; i--) {
      const handler = this.parts[i].current[id];
      if (handler !== undefined) return handler;
    }
    return null;
  }

  /** Everything that can be done now. */
  available(): ActionId[] {
    return ACTION_IDS.filter((id) => this.handlerOf(id) !== null);
  }
}

const Context = createContext<Registry | null>(null);

export function useRegistry(): Registry {
  const registry = useContext(Context);
  if (!registry) throw new Error("Actions belong to a page that has some.");
  return registry;
}

/** Says what happens when actions are chosen, as long as the part is there. The newest handlers are used. */
export function useActions(handlers: Handlers): void {
  const registry = useRegistry();
  const current = useRef(handlers);
  // In one step with what is shown: a key is that of what stands there, also for who is quicker than what comes behind the picture.
  useLayoutEffect(() => {
    current.current = handlers;
  });
  useLayoutEffect(() => registry.add(current), [registry]);
}

/** Makes actions out of keys, while nothing is being typed and no dialog is open. */
export function Actions({ children }: { children: ReactNode }) {
  const registry = useMemo(() => new Registry(), []);
  const [lone] = useLoneKeys();
  // Listens with the picture, as the handlers do: the words that lead to a key are not there before it.
  useLayoutEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.metaKey || isTypedInto(event.target)) return;
      if (isCovered()) return;
      const key = keyOf(event);
      if (event.altKey !== (lone === "alt" && isLoneKey(key))) return;
      const id = BY_KEY.get(key);
      const handler = id && registry.handlerOf(id);
      if (!handler) return;
      event.preventDefault();
      handler();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [registry, lone]);
  return <Context value={registry}>{children}</Context>;
}
