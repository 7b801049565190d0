"use client";
import { type FormEvent, useState } from "react";
import { ask, reasonFrom } from "../asking/ask";
import { PersonMark } from "../parts/person-mark";
import { type Credentials, NameAndPassword } from "./name-and-password";

export interface DemoPerson {
  name: string;
  fullName: string;
  about: string;
}

/** Name and password, or a provider; in the demo also its made-up people, by one click. */
export function SignIn({
  next,
  demo,
  provider,
  passwords,
  why,
}: {
  next: string;
  demo: DemoPerson[];
  /** What the provider through which one can sign in is called; null for none. */
  provider: string | null;
  /** Whether one can sign in by a password. */
  passwords: boolean;
  /** Why one who came back from the provider is not signed in; empty for nobody. */
  why: string;
}) {
  const [given, setGiven] = useState<Credentials>({ name: "", password: "" });
  const [problem, setProblem] = useState(why);
  const [busy, setBusy] = useState(false);
  const enter = async (asking: () => Promise<{ id: string | null } | null>) => {
    setBusy(true);
    setProblem("");
    try {
      const signedIn = await asking();
      if (signedIn?.id === null) {
        setGiven((now) => ({ ...now, code: "" }));
        setBusy(false);
      } else window.location.assign(next);
    } catch (error) {
      setProblem(reasonFrom(error));
      setBusy(false);
    }
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void enter(() => ask("POST /api/sign-in", { body: given }));
  };
  return (
    <div className="grid gap-8">
      {provider !== null && (
        <div>
          <a
            className={`${passwords ? "button" : "button-main"} w-full justify-center`}
            href={`/api/sign-in/provider?${new URLSearchParams({ next })}`}
          >
            Sign in with {provider}
          </a>
          {!passwords && (
            <div role="alert" className="mt-3 text-clay">
              {problem}
            </div>
          )}
        </div>
      )}
      {passwords && (
        <form onSubmit={submit} className="grid gap-3">
          <NameAndPassword value={given} onChange={(part) => setGiven((now) => ({ ...now, ...part }))} />
          <div role="alert" className="min-h-5 text-clay">
            {problem}
          </div>
          <button type="submit" className="button-main justify-center" disabled={busy}>
            Sign in
          </button>
        </form>
      )}
      {demo.length > 0 && (
        <section aria-labelledby="demo">
          <h2 id="demo" className="font-serif text-lg font-semibold">
            This is the demo
          </h2>
          <p className="mt-1 text-soft">A small harbour’s office. Its people are made up; be any of them.</p>
          <ul className="mt-3 grid gap-2">
            {demo.map((person) => (
              <li key={person.name}>
                <button
                  type="button"
                  disabled={busy}
                  onClick={() => enter(() => ask("POST /api/sign-in/demo", { body: { name: person.name } }))}
                  className="flex w-full items-center gap-3 rounded-md border border-rule bg-paper px-3 py-2 text-left hover:border-brass"
                >
                  <PersonMark name={person.fullName} />
                  <span>
                    <span className="font-semibold">{person.fullName}</span>{" "}
                    <span className="text-soft">{person.about}</span>
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
