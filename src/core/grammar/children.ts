import type { Syntax } from "./syntax";

/** The nodes right below one, in order. */
export function childrenOf(syntax: Syntax, node: number): number[] {
  const sizes = sizesOf(syntax);
  const children: number[] = [];
  for (let at = node + 1; at < node + sizes[node]; at += sizes[at]) children.push(at);
  return children;
}

/** The node of the same parent that ends before one; -1 where there is none. */
export function siblingBefore({ depth, parent }: Syntax, node: number): number {
  let before = node - 1;
  while (depth[before] > depth[node]) before = parent[before];
  return before > parent[node] ? before : -1;
}

const SIZES = new WeakMap<Syntax, Int32Array>();

/** Of each node, how many there are in it, itself among them: so far on stands what follows it. */
export function sizesOf(syntax: Syntax): Int32Array {
  let sizes = SIZES.get(syntax);
  if (!sizes) {
    const { parent } = syntax;
    sizes = new Int32Array(parent.length).fill(1);
    for (let node = parent.length - 1; node > 0; node--) sizes[parent[node]] += sizes[node];
    SIZES.set(syntax, sizes);
  }
  return sizes;
}
