/** Whether git would take this as the name of a branch, by the rules of git-check-ref-format(1); stricter about a leading dash. */
export function isBranchName(name: string): boolean {
  if (name.length === 0 || name.length > 250 || name === "@" || name === "HEAD" || name.startsWith("-")) return false;
  if (/[\x00-\x20\x7f~^:?*[\\]|\.\.|@\{|\/\/|^\/|\/$|\.$/.test(name)) return false;
  return name.split("/").every((part) => part !== "" && !part.startsWith(".") && !part.endsWith(".lock"));
}

/** Names of repositories become folders and parts of addresses, so they are plain. */
export function isRepositoryName(name: string): boolean {
  return /^[a-z0-9](?:[a-z0-9._-]{0,62}[a-z0-9])?$/.test(name) && !name.includes("..") && !name.endsWith(".git");
}
