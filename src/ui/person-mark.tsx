/** A person's initials in a ring; their name is read out and shown on hovering. `said` is false where what stands around it says the name. */
export function PersonMark({ name, size = 26, said = true }: { name: string; size?: number; said?: boolean }) {
  const parts = name.split(/\s+/).filter(Boolean);
  const initials = `${parts[0]?.[0] ?? ""}${parts.length > 1 ? parts[parts.length - 1][0] : ""}`.toUpperCase();
  // Drawn by the style sheet: a name is not read out twice, and not as letters.
  return (
    <span
      {...(said ? { role: "img", "aria-label": name, title: name } : { "aria-hidden": true })}
      data-initials={initials}
      className="inline-flex flex-none items-center justify-center rounded-full bg-slate text-[11px] font-semibold text-paper before:content-[attr(data-initials)]"
      style={{ width: size, height: size }}
    />
  );
}
