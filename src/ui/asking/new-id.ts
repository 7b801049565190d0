/** A new id for something written here. `crypto.randomUUID` exists only on https and localhost; this works everywhere. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (byte) => byte.toString(16).padStart(2, "0")).join("");
}
