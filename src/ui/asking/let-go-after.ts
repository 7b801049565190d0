/**
 * How long an answer that nothing shows any more is kept, in milliseconds. Where a page is made for a browser that is for ever: a clock that runs there
 * would hold on to the request, and all that its page was made of, until it ends.
 */
export function letGoAfter(time: number): number {
  return typeof window === "undefined" ? Number.POSITIVE_INFINITY : time;
}
