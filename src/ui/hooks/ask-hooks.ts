import type { HookRequest } from "@/core/views/hooks-view";
import { ask } from "../asking/ask";

/** How webhooks are asked for: those of a repository, or, for null, of all. */
export function askHooks(repository: string | null) {
  if (repository === null)
    return {
      make: (body: HookRequest) => ask("POST /api/keeping/hooks", { body }),
      drop: (id: string) => ask("DELETE /api/keeping/hooks/{id}", { parts: { id } }),
      deliveries: (id: string, signal: AbortSignal) =>
        ask("GET /api/keeping/hooks/{id}/deliveries", { parts: { id }, signal }),
      again: (id: string, delivery: string) =>
        ask("POST /api/keeping/hooks/{id}/deliveries", { parts: { id }, body: { delivery } }),
    };
  const repo = repository;
  return {
    make: (body: HookRequest) => ask("POST /api/repos/{repo}/hooks", { parts: { repo }, body }),
    drop: (id: string) => ask("DELETE /api/repos/{repo}/hooks/{id}", { parts: { repo, id } }),
    deliveries: (id: string, signal: AbortSignal) =>
      ask("GET /api/repos/{repo}/hooks/{id}/deliveries", { parts: { repo, id }, signal }),
    again: (id: string, delivery: string) =>
      ask("POST /api/repos/{repo}/hooks/{id}/deliveries", { parts: { repo, id }, body: { delivery } }),
  };
}
