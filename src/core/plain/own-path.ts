/** Only a path of our own may be gone to after signing in; anything else is the desk. */
export function ownPath(next: string | undefined): string {
  return next && /^\/(?![/\\])/.test(next) && !/[\r\n\t]/.test(next) ? next : "/";
}
