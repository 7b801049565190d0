/** Names of files that programs write to pin what they depend on. */
const LOCKFILES = new Set([
  "package-lock.json",
  "npm-shrinkwrap.json",
  "yarn.lock",
  "pnpm-lock.yaml",
  "bun.lock",
  "deno.lock",
  "Cargo.lock",
  "poetry.lock",
  "uv.lock",
  "Pipfile.lock",
  "Gemfile.lock",
  "composer.lock",
  "go.sum",
  "flake.lock",
  "mix.lock",
  "packages.lock.json",
]);

const MINIFIED_LINE = 500;
const MINIFIED_SIZE = 5_000;

/** Why a file is taken for generated, in a word or two; null when a person seems to have written it. */
export function generatedBy(path: string, lines: readonly string[], attribute: boolean | null): string | null {
  if (attribute !== null) return attribute ? "marked as generated" : null;
  const name = path.slice(path.lastIndexOf("/") + 1);
  if (LOCKFILES.has(name)) return "lockfile";
  if (/\.min\.(?:js|css|mjs)$/.test(name)) return "minified";
  if (/\.(?:js|css|mjs)\.map$/.test(name)) return "source map";
  if (/\.(?:js|mjs|cjs|css)$/.test(name)) {
    const size = lines.reduce((sum, line) => sum + line.length, 0);
    if (size > MINIFIED_SIZE && size / Math.max(1, lines.length) > MINIFIED_LINE) return "minified";
  }
  return null;
}

/** One line of a `.gitattributes` file that speaks of `lens-generated`. */
interface Rule {
  matches: (path: string) => boolean;
  generated: boolean;
}

/**
 * Reads `lens-generated` out of `.gitattributes` files, given by the folder they lie in ("" for the top). The answer for a path is true
 * for set, false for unset (`-lens-generated`), null for unspecified; the deepest file and the last line in it win, as in git.
 */
export function readAttributes(files: readonly { folder: string; text: string }[]): (path: string) => boolean | null {
  const rules: Rule[] = [];
  for (const { folder, text } of [...files].sort((a, b) => a.folder.length - b.folder.length)) {
    for (const line of text.split("\n")) {
      const [pattern, ...attributes] = line.trim().split(/\s+/);
      if (!pattern || pattern.startsWith("#") || pattern.startsWith("!")) continue;
      for (const attribute of attributes) {
        const [, minus, value] = /^(-?)lens-generated(?:=(.*))?$/.exec(attribute) ?? [];
        if (minus === undefined) continue;
        rules.push({ matches: matcher(folder, pattern), generated: minus === "" && value !== "false" });
      }
    }
  }
  return (path) => rules.findLast(({ matches }) => matches(path))?.generated ?? null;
}

/** A pattern of gitattributes(5): without a slash it fits the name anywhere below, with one the path from its folder on. */
function matcher(folder: string, pattern: string): (path: string) => boolean {
  const anchored = pattern.replace(/^\//, "");
  const whole = pattern.includes("/");
  const expression = new RegExp(`^${globToExpression(anchored)}$`);
  const prefix = folder === "" ? "" : `${folder}/`;
  return (path) => {
    if (!path.startsWith(prefix)) return false;
    const rest = path.slice(prefix.length);
    return expression.test(whole ? rest : rest.slice(rest.lastIndexOf("/") + 1));
  };
}

function globToExpression(glob: string): string {
  let result = "";
  for (let i = 0; i < glob.length; i++) {
    if (glob.startsWith("**/", i)) {
      result += "(?:.*/)?";
      i += 2;
    } else if (glob.startsWith("**", i)) {
      result += ".*";
      i += 1;
    } else if (glob[i] === "*") result += "[^/]*";
    else if (glob[i] === "?") result += "[^/]";
    else result += glob[i].replace(/[.+^${}()|[\]\\]/g, "\\$&");
  }
  return result;
}
