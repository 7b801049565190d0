"use client";
import { PlainPage } from "@/ui/frame/plain-page";

export default function ErrorPage({ error, reset }: { error: Error & { digest?: string }; reset: () => void }) {
  return (
    <PlainPage title="Something went wrong on this page">
      <p className="mt-3 text-soft">
        What you had written and not sent is kept.{" "}
        {error.digest ? `The server’s log has the reason under ${error.digest}.` : ""}
      </p>
      <button type="button" onClick={reset} className="button mt-6">
        Try again
      </button>
    </PlainPage>
  );
}
