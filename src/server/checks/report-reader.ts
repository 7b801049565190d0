import { isLcov, readCobertura, readLcov } from "@/core/checks/coverage";
import { readJunit } from "@/core/checks/junit";
import { plainReport } from "@/core/checks/plain";
import { LARGEST_REPORT, type Report } from "@/core/checks/report";
import { readSarif } from "@/core/checks/sarif";
import { done, type Outcome, refuse } from "@/core/plain/outcome";

/** What a report says, told by how it begins. */
export function readReport(bytes: Uint8Array): Outcome<Report> {
  if (bytes.length > LARGEST_REPORT)
    return refuse(
      "invalid",
      `The report has ${Math.ceil(bytes.length / 1024 / 1024)} MB; at most ${LARGEST_REPORT / 1024 / 1024} are taken. Report less, or in parts by other names.`,
    );
  const text = decodeReport(bytes);
  const start = text.trimStart()[0];
  if (start === "<") return /<coverage[\s>]/.test(text.slice(0, 4_000)) ? readCobertura(text) : readJunit(text);
  if (start === "{") return readSarif(text);
  if (isLcov(text)) return readLcov(text);
  const plain = plainReport(text);
  return plain
    ? done(plain)
    : refuse(
        "invalid",
        "This is neither JUnit XML, SARIF, LCOV nor Cobertura XML, and has no line such as FILE:LINE: message in it.",
      );
}

/** By its byte order mark, or by what an XML declaration says; else UTF-8. */
function decodeReport(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder("utf-16le").decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder("utf-16be").decode(bytes);
  const start = Buffer.from(bytes.subarray(0, 200)).toString("latin1");
  const [, encoding = "utf-8"] = /^<\?xml[^>]*\sencoding=["']([\w-]+)["']/.exec(start) ?? [];
  try {
    return new TextDecoder(encoding).decode(bytes);
  } catch {
    return new TextDecoder("utf-8").decode(bytes);
  }
}
