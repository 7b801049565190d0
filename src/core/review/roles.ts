/** What a person may do in one repository; each role may do all that the ones before it may. */
export const ROLES = ["reader", "contributor", "keeper"] as const;
export type Role = (typeof ROLES)[number];

/** Whether `role` is at least `needed`; no role at all is never enough. */
export function atLeast(role: Role | null, needed: Role): boolean {
  return role !== null && ROLES.indexOf(role) >= ROLES.indexOf(needed);
}
