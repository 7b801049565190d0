import * as v from "valibot";
import { expect, it } from "vitest";
import { wrongIn } from "./shape";

const schema = v.object({
  marks: v.array(v.union([v.object({ path: v.string() }), v.object({ name: v.string(), at: v.number() })])),
});
const wrong = (given: unknown) => {
  const { issues } = v.safeParse(schema, given);
  return issues ? wrongIn(issues, "The request") : null;
};

it("says where something has another shape than it should, down into what could be one of several", () => {
  expect(wrong({ marks: [{ path: "a" }, { name: "b", at: 1 }] })).toBeNull();
  expect(wrong(7)).toBe("The request: Invalid type: Expected Object but received 7");
  expect(wrong({ marks: "none" })).toBe('marks: Invalid type: Expected Array but received "none"');
  expect(wrong({ marks: [{ path: "a" }, {}] })).toBe(
    'marks.1.path: Invalid key: Expected "path" but received undefined',
  );
  expect(wrong({ marks: "x".repeat(9_000) })).toHaveLength(300);
  expect(wrong({ marks: [{ path: 3 }] })).toBe("marks.0.path: Invalid type: Expected string but received 3");
});
