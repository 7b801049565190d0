import { notFound, redirect } from "next/navigation";
import { changeOfCommit } from "@/server/changes/changes";
import { visitor } from "../../../../visitor";

/** A commit has no page of its own: it is shown by itself in the newest change set that it is part of. */
export default async function Page({ params }: { params: Promise<{ repo: string; id: string }> }) {
  const { repo, id } = await params;
  const { app, person } = await visitor(`/r/${repo}/commit/${id}`);
  const found = await changeOfCommit(app, person, repo, id);
  if (!found.ok) notFound();
  const { number, commit } = found.value;
  redirect(`/r/${repo}/c/${number}?from=before:${commit}&to=at:${commit}`);
}
