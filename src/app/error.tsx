"use client";

export default function ErrorPage({ error, reset }: { error: Error & { digest?: string }; reset: () => void }) {
  return (
    <main className="mx-auto max-w-lg px-6 py-24">
      <h1 className="font-serif text-3xl font-semibold">Something went wrong on this page</h1>
      <p className="mt-3 text-soft">
        What you had written and not sent is kept.{" "}
        {error.digest ? `The server’s log has the reason under ${error.digest}.` : ""}
      </p>
      <button type="button" onClick={reset} className="button mt-6">
        Try again
      </button>
    </main>
  );
}
