/** A key, shown on the button that does the same. */
export function Key({ children }: { children: string }) {
  return (
    <kbd aria-hidden className="rounded border border-rule bg-paper px-1 font-mono text-[10.5px] leading-4 text-soft">
      {children}
    </kbd>
  );
}
