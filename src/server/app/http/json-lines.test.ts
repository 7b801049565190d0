import { describe, expect, it } from "vitest";
import { done, type Outcome, refuse } from "@/core/plain/outcome";
import { jsonLines } from "./json-lines";

type Say = (line: number[]) => void;

async function linesOf(work: (say: Say) => Promise<Outcome<number[]>>): Promise<unknown[]> {
  const response = await jsonLines(work);
  if (!(response instanceof Response)) return [response];
  expect(response.headers.get("content-type")).toBe("application/x-ndjson");
  return (await response.text())
    .trimEnd()
    .split("\n")
    .map((line) => JSON.parse(line));
}

describe("lines of JSON", () => {
  it("come as they are said, before the work is done, and the last is what it gave", async () => {
    let end = () => {};
    const ended = new Promise<void>((resolve) => {
      end = resolve;
    });
    const response = (await jsonLines<number[]>(async (say) => {
      say([1]);
      await ended;
      say([2]);
      return done([3]);
    })) as Response;
    const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
    expect((await reader.read()).value).toBe("[1]\n");
    end();
    let rest = "";
    for (let { value, done } = await reader.read(); !done; { value, done } = await reader.read()) rest += value;
    expect(rest).toBe("[2]\n[3]\n");
  });

  it("are none where it is refused before the first, and end with the refusal after it", async () => {
    expect(await linesOf(async () => refuse("invalid", "No."))).toEqual([refuse("invalid", "No.")]);
    const after = async (say: Say) => {
      say([1]);
      await Promise.resolve();
      return refuse("too-many", "Enough.");
    };
    expect(await linesOf(after)).toEqual([[1], { refusal: { code: "too-many", reason: "Enough." } }]);
  });

  it("break off where something goes wrong, which is told to who serves while nothing was said", async () => {
    await expect(jsonLines(() => Promise.reject(new Error("Burst.")))).rejects.toThrow("Burst.");
    const late = async (say: Say) => {
      say([1]);
      await Promise.resolve();
      throw new Error("Burst.");
    };
    await expect(linesOf(late)).rejects.toThrow("Burst.");
  });

  it("go nowhere once nobody listens", async () => {
    let say: Say = () => {};
    let end = () => {};
    const response = (await jsonLines<number[]>(async (line) => {
      say = line;
      line([1]);
      await new Promise<void>((resolve) => {
        end = resolve;
      });
      return done([3]);
    })) as Response;
    await response.body!.cancel();
    say([2]);
    end();
    await new Promise((resolve) => setTimeout(resolve, 0));
  });
});
