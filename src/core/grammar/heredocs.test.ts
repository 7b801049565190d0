import { describe, expect, it } from "vitest";
import { endWhereTheySeem } from "./heredocs";
import type { LanguageId } from "./languages";

describe("a text that goes on to a line of its own", () => {
  const cases: [ends: boolean, language: LanguageId, what: string, text: string][] = [
    [true, "bash", "at the margin", "cat <<EOF\n  text\nEOF\ngo\n"],
    [false, "bash", "deeper than its end may be", "cat <<EOF\n  text\n  EOF\ngo\nEOF\n"],
    [false, "bash", "with a space behind the word", "cat <<EOF\n  text\nEOF \ngo\nEOF\n"],
    [true, "bash", "behind tabs", "cat <<-EOF\n\ttext\n\t\tEOF\ngo\n"],
    [false, "bash", "behind spaces, where only tabs may be", "cat <<-EOF\n\ttext\n  EOF\ngo\n"],
    [true, "bash", "its word in quotes", "cat << 'E O' | go\ntext\nE O\ngo\n"],
    [false, "bash", "its word in quotes, deeper", 'cat << "EOF"\ntext\n EOF\ngo\n'],
    [false, "bash", "its word behind a backslash, deeper", "cat <<\\EOF\ntext\n EOF\ngo\n"],
    [false, "bash", "its word put together", "cat <<E'O'F\ntext\nEOF\ngo\n"],
    [false, "bash", "its word longer than any", `cat <<${"A".repeat(300)}\ntext\n  ${"A".repeat(300)}\ngo\n`],
    [false, "bash", "deeper than anybody looks", `cat <<EOF\ntext\n${" ".repeat(300)}EOF\ngo\nEOF\n`],
    [true, "bash", "one for another", "cat <<A <<B\ntext\nA\nmore\nB\ngo\n"],
    [false, "bash", "the second of two", "cat <<A <<B\ntext\nA\nmore\n B\ngo\nB\n"],
    [true, "bash", "a word that is given as a text", 'cat <<<EOF\n  EOF\ngo "$((1 << 2))" $((n<<8))\n'],
    [true, "ruby", "deeper, where it may be", "a = <<~EOT\n  text\n  EOT\ngo\n"],
    [false, "ruby", "deeper, where it may not", "a = <<EOT\n  text\n  EOT\ngo\nEOT\n"],
    [false, "ruby", "with a space behind the word", "a = <<~EOT\n  text\n  EOT \ngo\n  EOT\n"],
    [true, "ruby", "what is added to a list", "list << item\nlist <<other\nclass << self\nend\n"],
    [true, "javascript", "a language without", "a <<EOF\n  EOF\n"],
  ];
  it.each(cases)("%s in %s: %s", (ends, language, _, text) => {
    expect(endWhereTheySeem(language, text)).toBe(ends);
  });

  it("is looked for once, however many there are", () => {
    const many = Array.from({ length: 50_000 }, (_, n) => `cat <<A${n}\n`).join("");
    expect(endWhereTheySeem("bash", many + many)).toBe(true);
  });
});
