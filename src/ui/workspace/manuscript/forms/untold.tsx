/** Why a file is not shown in a form. */
export function Untold({ words }: { words: string }) {
  return (
    <p className="px-6 py-8 font-sans text-soft" role="status">
      {words}
    </p>
  );
}
