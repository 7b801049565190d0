/**
 * Freezes plain objects and lists with all that is in them, and gives them back: for what several are given at once. What is frozen already is
 * taken to be so all through.
 *
 * @example frozen({ names: ["ebb"] }).names // cannot be changed either
 */
export function frozen<T>(value: T): T {
  if (typeof value !== "object" || value === null || Object.isFrozen(value)) return value;
  Object.freeze(value);
  for (const part of Object.values(value)) frozen(part);
  return value;
}
