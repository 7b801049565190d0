import { execFileSync } from "node:child_process";
import { mkdirSync, symlinkSync, writeFileSync } from "node:fs";
import { join } from "node:path";

/** What a bare application of the same framework is made of: a route that says one thing, and a page with fifty rows. */
const FILES: Record<string, string> = {
  "package.json": '{ "name": "bare", "private": true }',
  "next.config.mjs": "export default { typescript: { ignoreBuildErrors: true } };",
  "app/layout.jsx":
    'export const dynamic = "force-dynamic";\nexport default function Layout({ children }) { return <html lang="en"><body>{children}</body></html>; }',
  "app/page.jsx": `export default async function Page() {
  const rows = Array.from({ length: 50 }, (_, i) => ({ id: i, title: "Row " + i + " of " + Date.now() }));
  return <main><h1>Rows</h1><ul>{rows.map(({ id, title }) => <li key={id}><a href={"/" + id}>{title}</a> <span>{id}</span></li>)}</ul></main>;
}`,
  "app/api/one/route.js": "export async function GET() { return Response.json({ well: true, at: Date.now() }); }",
};

/** Writes and builds it in a folder of its own, with the packages of this project. */
export function buildBare(folder: string, root: string): void {
  for (const [path, text] of Object.entries(FILES)) {
    mkdirSync(join(folder, path, ".."), { recursive: true });
    writeFileSync(join(folder, path), text);
  }
  symlinkSync(join(root, "node_modules"), join(folder, "node_modules"));
  const next = join(root, "node_modules/next/dist/bin/next");
  const env = { ...process.env, NODE_ENV: "production" as const, NEXT_TELEMETRY_DISABLED: "1" };
  execFileSync(process.execPath, [next, "build", "--webpack"], {
    cwd: folder,
    env,
    stdio: ["ignore", "ignore", "inherit"],
  });
}

/** The command that serves it. */
export function bareCommand(root: string, port: number): string[] {
  return [join(root, "node_modules/next/dist/bin/next"), "start", "--port", String(port)];
}
