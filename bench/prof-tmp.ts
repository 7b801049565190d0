import { compareTrees } from "@/server/tree";
import { forgetParses } from "@/server/grammars/grammars";
import { ObjectReader } from "@/git/objects";
const [folder, from, to] = process.argv.slice(2);
for (let i = 0; i < 2; i++) {
forgetParses(); const objects = new ObjectReader(folder);
const t = performance.now();
await compareTrees(folder, objects, from, to);
console.log((performance.now() - t).toFixed(0)); const mv = (globalThis as any).mv; if (mv) console.log({ ...mv, files: mv.files.size });
(globalThis as any).mv = undefined; objects.close();
}
