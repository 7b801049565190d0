import type { Metadata } from "next";
import { OwnAccount } from "@/ui/access/own-account";
import { LensMark } from "@/ui/frame/top-bar";

export const metadata: Metadata = { title: "Your account" };
/** Its scripts carry the word of each answer’s policy: it cannot be made once for all. */
export const dynamic = "force-dynamic";

/** Where an invitation leads to. What it is worth is known once its word is sent. */
export default function Page() {
  return (
    <main className="mx-auto max-w-md px-6 py-14">
      <h1 className="mb-3 flex items-center gap-3 font-serif text-3xl font-semibold">
        <LensMark /> Earnest Lens
      </h1>
      <p className="mb-6 text-soft">You were invited. Make your account, and you are in.</p>
      <OwnAccount way="join" next="/" />
    </main>
  );
}
