/**
 * JSON with one way to write it: members in the order of their names (by UTF-16 code units), no white space, numbers as ECMAScript writes them. RFC 8785.
 * Refuses, by throwing, what JSON cannot say. What is undefined is left out.
 *
 * @example canonical({ b: 1, a: [true] }) // '{"a":[true],"b":1}'
 */
export function canonical(value: unknown): string {
  if (value === null || typeof value === "boolean" || typeof value === "string") return JSON.stringify(value);
  if (typeof value === "number") {
    if (!Number.isFinite(value)) throw new Error(`JSON has no way to write ${value}.`);
    return JSON.stringify(value);
  }
  if (Array.isArray(value)) return `[${value.map(canonical).join(",")}]`;
  if (typeof value !== "object") throw new Error(`JSON has no way to write a ${typeof value}.`);
  const members = Object.entries(value).filter(([, member]) => member !== undefined);
  members.sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));
  return `{${members.map(([name, member]) => `${JSON.stringify(name)}:${canonical(member)}`).join(",")}}`;
}
