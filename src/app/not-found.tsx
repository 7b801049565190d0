import Link from "next/link";

export default function NotFound() {
  return (
    <main className="mx-auto max-w-lg px-6 py-24">
      <h1 className="font-serif text-3xl font-semibold">There is nothing here that you may see</h1>
      <p className="mt-3 text-soft">
        The address may be mistyped, or you have no role in that repository. Whoever keeps it can give you one.
      </p>
      <Link prefetch={false} href="/" className="button mt-6">
        To your desk
      </Link>
    </main>
  );
}
