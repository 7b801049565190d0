import type { Element, ElementContent, Nodes } from "hast";
import { visit } from "unist-util-visit";
import { stretchesOf } from "./right-to-left";

/** Code as elements that are drawn in the order in which it is written, see {@link stretchesOf}. */
export function inOrder(code: string): ElementContent[] {
  return stretchesOf(code).map(({ text, isRightToLeft }): ElementContent => {
    const value = { type: "text" as const, value: text };
    return isRightToLeft ? { type: "element", tagName: "bdi", properties: {}, children: [value] } : value;
  });
}

/** The same for all code that is quoted in a tree, which it changes. */
export function codeInOrder(tree: Nodes): void {
  visit(tree, "element", (element) => {
    if (element.tagName === "code") partIn(element);
  });
}

function partIn(element: Element): void {
  element.children = element.children.flatMap((child) => {
    if (child.type === "text") return inOrder(child.value);
    if (child.type === "element") partIn(child);
    return child;
  });
}
