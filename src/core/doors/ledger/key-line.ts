/** What somebody pastes to say that a clone is theirs: its key, and by a signature that they have the secret half of it. */
export interface KeyLine {
  /** DER (SPKI) of an Ed25519 key, in base64. */
  public: string;
  /** Over {@link claimOf} their name, in base64. */
  signature: string;
}

/** What is signed by the key of a clone to say whose it is. `name` is that of the account. */
export function claimOf(name: string): string {
  return `Earnest Lens: this clone is of ${name}`;
}

/** @example keyLine({ public: "MCow…", signature: "4vB…" }) // "lens-key MCow… 4vB…" */
export function keyLine({ public: key, signature }: KeyLine): string {
  return `lens-key ${key} ${signature}`;
}

/** Reads what {@link keyLine} wrote, with white space around and between as terminals wrap it; null for anything else. */
export function readKeyLine(text: string): KeyLine | null {
  const [word, key, signature, ...rest] = text.trim().split(/\s+/);
  const base64 = /^[A-Za-z0-9+/]{20,200}={0,2}$/;
  if (word !== "lens-key" || rest.length > 0 || !base64.test(key ?? "") || !base64.test(signature ?? "")) return null;
  return { public: key, signature };
}
