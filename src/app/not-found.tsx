import Link from "next/link";
import { PlainPage } from "@/ui/frame/plain-page";

export default function NotFound() {
  return (
    <PlainPage title="There is nothing here that you may see">
      <p className="mt-3 text-soft">
        The address may be mistyped, or you have no role in that repository. Whoever keeps it can give you one.
      </p>
      <Link prefetch={false} href="/" className="button mt-6">
        To your desk
      </Link>
    </PlainPage>
  );
}
