import type { LockSummary } from "./lockfile";

/** How a lockfile changed, in sentences of a few words each: one for each package, what is new before all that has another version. */
export function lockWords({ added, removed, changed }: LockSummary): string[] {
  return [
    ...added.map(({ name, version }) => `${name}: ${version} added`),
    ...changed.map(({ name, from, to }) => `${name}: ${from} → ${to}`),
    ...removed.map(({ name, version }) => `${name}: ${version} removed`),
  ];
}
