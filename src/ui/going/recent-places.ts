const KEPT = "lens recent places of";
const MOST = 8;

export interface RecentPlace {
  title: string;
  address: string;
}

/** The change sets that were looked at last by somebody in this browser, the newest first. Nothing where the browser keeps nothing. */
export function recentPlaces(owner: string): RecentPlace[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(`${KEPT} ${owner}`) ?? "[]");
    return Array.isArray(kept) ? kept.filter(isPlace).slice(0, MOST) : [];
  } catch {
    return [];
  }
}

function isPlace(value: unknown): value is RecentPlace {
  const { title, address } = (value ?? {}) as Partial<RecentPlace>;
  return typeof title === "string" && typeof address === "string" && /^\/(?!\/)/.test(address);
}

/** Notes that a place is looked at. */
export function noteRecent(owner: string, place: RecentPlace): void {
  try {
    const others = recentPlaces(owner).filter(({ address }) => address !== place.address);
    localStorage.setItem(`${KEPT} ${owner}`, JSON.stringify([place, ...others].slice(0, MOST)));
  } catch {
    // A browser that keeps nothing has no recent places.
  }
}
