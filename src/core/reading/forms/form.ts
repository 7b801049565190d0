import { isMarkdown } from "../../diff/scopes";

/** Another form in which a file can be shown, beside its lines. */
export type Form = "prose" | "table" | "data" | "notebook";

/** How each form is called, to follow "show it …". */
export const FORM_NAMES: Record<Form, string> = {
  prose: "as it reads",
  table: "as a table",
  data: "by its keys",
  notebook: "by its cells",
};

/** Of longer texts, in characters of both states, the form is not made: nobody waits for it, and the page stands still meanwhile. */
export const LONGEST_DRAWN: Record<Form, number> = {
  ...{ prose: 1_000_000, table: 1_000_000, notebook: 1_000_000 },
  data: 400_000,
};

/** The form in which a file can be shown, by its path; null where it has lines alone. */
export function formOf(path: string): Form | null {
  if (isMarkdown(path)) return "prose";
  if (/\.(?:csv|tsv)$/i.test(path)) return "table";
  if (/\.(?:json|geojson|webmanifest|ya?ml)$/i.test(path)) return "data";
  return /\.ipynb$/i.test(path) ? "notebook" : null;
}
