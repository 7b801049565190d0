import { describe, expect, it } from "vitest";
import { LONGEST_HTML, plainMail, wholeMail } from "./read-mail";

const inHtml = (html: string) =>
  Buffer.from(`From: a@x.example\r\nTo: b@x.example\r\nContent-Type: text/html\r\n\r\n${html}`);

describe("a message in HTML", () => {
  it("has text where it is not too long, and is never made into text where only its head is asked for", async () => {
    const short = inHtml("<p>One.<p>Two.");
    expect((await wholeMail(short)).text).toBe("One.\n\nTwo.");
    expect((await plainMail(short)).text).toBeFalsy();
    const long = inHtml("<p>a".repeat(LONGEST_HTML));
    for (const read of [plainMail, wholeMail]) {
      const { text, from } = await read(long);
      expect(text).toBeFalsy();
      expect(from?.value[0].address).toBe("a@x.example");
    }
  });
});
