import { createHash } from "node:crypto";

/** A lockfile as npm writes it: packages by name with their versions, fetched from one made-up host. */
export function lockfile(project: string, versions: Record<string, string>, host = "packages.harbour.example"): string {
  const packages = Object.entries(versions).map(([name, version]) => {
    const file = `${name.slice(name.lastIndexOf("/") + 1)}-${version}.tgz`;
    const integrity = `sha512-${createHash("sha512").update(`${name} ${version} ${host}`).digest("base64")}`;
    return [
      `node_modules/${name}`,
      { version, resolved: `https://${host}/${name}/-/${file}`, integrity, license: "MIT" },
    ];
  });
  const value = { name: project, lockfileVersion: 3, requires: true, packages: Object.fromEntries(packages) };
  return `${JSON.stringify(value, null, 2)}\n`;
}
