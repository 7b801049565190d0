/** What SQLite's full-text index is asked for some words: all of them next to each other, the last one perhaps only begun. */
export function matching(words: string): string {
  return `"${words.replaceAll('"', '""')}"*`;
}
