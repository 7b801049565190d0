import { HUES, hueOf } from "@/core/house/labels/hues";
import type { Portrait } from "@/core/views/api";

/**
 * Somebody’s picture, or their initials in their colour; the name is read out and shown on hovering. `said` is false where what stands around it says
 * the name.
 */
export function PersonMark({
  name,
  portrait,
  size = 26,
  said = true,
}: {
  name: string;
  portrait?: Portrait;
  size?: number;
  said?: boolean;
}) {
  const parts = name.split(/\s+/).filter(Boolean);
  const initials = `${parts[0]?.[0] ?? ""}${parts.length > 1 ? parts[parts.length - 1][0] : ""}`.toUpperCase();
  const spoken = said ? { role: "img", "aria-label": name, title: name } : { "aria-hidden": true as const };
  const { hue, picture } = portrait ?? { hue: hueOf(name), picture: null };
  if (picture)
    return (
      <span
        {...spoken}
        className="inline-block flex-none rounded-full bg-well bg-cover bg-center"
        style={{ width: size, height: size, backgroundImage: `url("${picture}")` }}
      />
    );
  // Drawn by the style sheet: a name is not read out twice, and not as letters.
  return (
    <span
      {...spoken}
      data-initials={initials}
      className="inline-flex flex-none items-center justify-center rounded-full text-[11px] font-semibold text-white before:content-[attr(data-initials)]"
      style={{ width: size, height: size, backgroundColor: `oklch(0.42 0.09 ${HUES[hue] ?? HUES[0]})` }}
    />
  );
}
