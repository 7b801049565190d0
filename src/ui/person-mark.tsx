/** A person's initials in a ring; their name is read out and shown on hovering. */
export function PersonMark({ name, size = 26 }: { name: string; size?: number }) {
  const parts = name.split(/\s+/).filter(Boolean);
  const initials = `${parts[0]?.[0] ?? ""}${parts.length > 1 ? parts[parts.length - 1][0] : ""}`.toUpperCase();
  return (
    <span
      role="img"
      aria-label={name}
      title={name}
      className="inline-flex flex-none items-center justify-center rounded-full bg-slate text-[11px] font-semibold text-paper"
      style={{ width: size, height: size }}
    >
      {initials}
    </span>
  );
}
