import type { Metadata } from "next";
import { ComeIn } from "@/ui/access/come-in";

export const metadata: Metadata = { title: "Your clone" };
/** Its scripts carry the word of each answer’s policy: it cannot be made once for all. */
export const dynamic = "force-dynamic";

/** Where `lens here` leads to: the word is behind the `#`, and where to go on in the query. */
export default async function Page({ searchParams }: { searchParams: Promise<{ next?: string }> }) {
  const { next = "/" } = await searchParams;
  return (
    <main className="mx-auto max-w-md px-6 py-14">
      <h1 className="font-serif text-2xl font-semibold">Your clone</h1>
      <ComeIn next={/^\/r\/[\w.-]+(?:\/c\/\d+)?$/.test(next) ? next : "/"} />
    </main>
  );
}
