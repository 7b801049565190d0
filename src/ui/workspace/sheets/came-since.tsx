import type { ReactNode } from "react";

/** At the head of a sheet: what it is about is not the newest any more, and the way to what came. */
export function CameSince({
  children,
  onNewest,
  onClose,
}: {
  children: ReactNode;
  onNewest: () => void;
  onClose: () => void;
}) {
  return (
    <p className="mb-3 rounded-md border border-brass bg-brass-wash px-3 py-2" role="status">
      {children}{" "}
      <button
        type="button"
        className="quiet-button"
        onClick={() => {
          onClose();
          onNewest();
        }}
      >
        look at what is new first
      </button>
    </p>
  );
}
