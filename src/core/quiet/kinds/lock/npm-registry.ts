const NAME = /^(?:@[\w.~-]+\/)?(?!\.)[\w.~-]+$/;
const VERSION = /^\d[\w.+-]*$/;

/** A hash of an archive as npm's registry gives it. */
export const HASH = /^(?:sha512-[\w+/]{86}==|sha1-[\w+/]{27}=)$/;

/**
 * Where an archive of npm's registry lies, without its name and version; null when they do not fit.
 *
 * @example registryHost("https://packages.example/tide/-/tide-1.0.0.tgz", "tide", "1.0.0") // "https://packages.example"
 */
export function registryHost(address: string, name: string, version: string): string | null {
  if (!NAME.test(name) || !VERSION.test(version)) return null;
  const bare = name.slice(name.lastIndexOf("/") + 1);
  const tail = `/${name}/-/${bare}-${version}.tgz`;
  const plain = address.replace(/#[0-9a-f]{40}$/, "").replace("%2f", "/");
  if (!plain.startsWith("https://") || !plain.endsWith(tail)) return null;
  const host = plain.slice(0, -tail.length);
  return /[?#@\s]/.test(host) ? null : host;
}
