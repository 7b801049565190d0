/** How much of the end of a name is always seen: what its ending is, and what tells it from its neighbours. */
const END = 12;

/** A name that is cut in its middle where there is no room for all of it. */
export function Cut({ name }: { name: string }) {
  if (name.length <= END) return <span className="min-w-0 truncate">{name}</span>;
  return (
    <span className="flex min-w-0 max-w-full">
      <span className="min-w-0 truncate">{name.slice(0, -END)}</span>
      <span className="flex-none whitespace-pre">{name.slice(-END)}</span>
    </span>
  );
}
