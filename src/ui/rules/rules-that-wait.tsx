import Link from "next/link";

/** On the desk of a keeper: rules that another one saved, and that count when they agree. */
export function RulesThatWait({ editions }: { editions: readonly { repository: string; version: number }[] }) {
  return editions.map(({ repository, version }) => (
    <p
      key={repository}
      className="mt-4 rounded-md border border-l-4 border-rule border-l-brass bg-paper px-4 py-2 wrap-anywhere"
    >
      <Link
        prefetch={false}
        className="text-slate underline underline-offset-2 hover:decoration-2"
        href={`/r/${repository}/rules`}
      >
        Edition {version} of the rules of {repository}
      </Link>{" "}
      counts when a second keeper agrees: you can.
    </p>
  ));
}
