import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { toJsonSchema } from "@valibot/to-json-schema";
import { expect, it } from "vitest";
import { rulesSchema } from "./rule";

it("the published schema of rules is that by which they are checked", () => {
  const schema = {
    $schema: "https://json-schema.org/draft/2020-12/schema",
    title: "The rules of a repository, as they are exported and imported",
    ...toJsonSchema(rulesSchema, { errorMode: "ignore", typeMode: "input" }),
  };
  // After a change: LENS_WRITE_SCHEMA=yes npx vitest run src/core/rules/schema.test.ts
  const place = join(process.env.LENS_ROOT ?? process.cwd(), "docs/rules.schema.json");
  const text = `${JSON.stringify({ ...schema, $schema: "https://json-schema.org/draft/2020-12/schema" }, null, 2)}\n`;
  if (process.env.LENS_WRITE_SCHEMA === "yes") writeFileSync(place, text);
  expect(readFileSync(place, "utf8")).toBe(text);
});
