import type { LockSummary } from "./lockfile";

/** How a lockfile changed, in sentences of a few words each: one for each package. */
export function lockWords({ added, removed, changed }: LockSummary): string[] {
  return [
    ...changed.map(({ name, from, to }) => `${name}: ${from} → ${to}`),
    ...added.map(({ name, version }) => `${name}: ${version} added`),
    ...removed.map(({ name, version }) => `${name}: ${version} removed`),
  ];
}
