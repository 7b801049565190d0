"use client";
import { type FormEvent, useState } from "react";
import { counted } from "@/core/plain/words";
import type { SecondStepBegun, SecondStepView } from "@/core/views/access-view";
import { ask } from "../asking/ask";
import { useCarried } from "../asking/use-carried";
import { When } from "../parts/when";

/** What is shown beside the password at signing in: switched on with a device, and off again. */
export function SecondStep({ initial }: { initial: SecondStepView }) {
  const [state, setState] = useState(initial);
  const [begun, setBegun] = useState<SecondStepBegun | null>(null);
  const [words, setWords] = useState<readonly string[]>([]);
  const [ending, setEnding] = useState(false);
  const { carry, ending: told } = useCarried();
  const begin = () => carry(async () => setBegun(await ask("POST /api/second-step")), "");
  const confirm = (code: string) =>
    carry(async () => {
      setWords((await ask("PUT /api/second-step", { body: { code } })).words);
      setState(await ask("GET /api/second-step"));
      setBegun(null);
    }, "It is on. Who signs in as you is asked for it from now on.");
  const end = (code: string) =>
    carry(async () => {
      await ask("POST /api/second-step/end", { body: { code } });
      setState({ onSince: null, wordsLeft: 0 });
      setWords([]);
      setEnding(false);
    }, "It is off. Your password alone is asked for.");
  return (
    <section aria-label="Second step" className="mt-10">
      <h2 className="font-serif text-xl font-semibold">A second step at signing in</h2>
      <p className="mb-2 text-soft">
        {state.onSince === null ? (
          "Beside your password, a number that a device of yours makes anew every half minute. Tokens are not asked for it."
        ) : (
          <>
            On since <When at={state.onSince} />. {counted(state.wordsLeft, "word")} left for when your device is lost.
          </>
        )}
      </p>
      {told}
      {words.length > 0 && (
        <div role="status" className="mb-3 rounded-md border border-brass bg-brass-wash px-4 py-3">
          <p>Keep these where your device is not: each lets you in once without it. They are shown this once.</p>
          <ul className="mt-2 grid select-all grid-cols-2 gap-x-6 font-mono text-[13px]" data-testid="words">
            {words.map((word) => (
              <li key={word}>{word}</li>
            ))}
          </ul>
        </div>
      )}
      {state.onSince === null && !begun && (
        <button type="button" className="button" onClick={() => void begin()}>
          Switch it on …
        </button>
      )}
      {begun && (
        <div className="grid gap-3 rounded-md border border-rule bg-paper px-4 py-3">
          <p>Show this to the device, or type the letters into it; then say what it shows.</p>
          <div className="flex flex-wrap items-center gap-6">
            {/* biome-ignore lint/performance/noImgElement: it is drawn on the page, and fetched from nowhere */}
            <img
              alt="The secret, to be read by the camera of your device"
              className="size-40 rounded bg-white"
              src={`data:image/svg+xml;utf8,${encodeURIComponent(begun.picture)}`}
            />
            <code className="select-all break-all font-mono text-[13px]" data-testid="secret">
              {begun.secret.match(/.{1,4}/g)?.join(" ")}
            </code>
          </div>
          <CodeForm says="Switch it on" onSay={confirm} onClose={() => setBegun(null)} />
        </div>
      )}
      {state.onSince !== null &&
        (ending ? (
          <CodeForm says="Switch it off" onSay={end} onClose={() => setEnding(false)} />
        ) : (
          <button type="button" className="button" onClick={() => setEnding(true)}>
            Switch it off …
          </button>
        ))}
    </section>
  );
}

function CodeForm(props: { says: string; onSay: (code: string) => Promise<void>; onClose: () => void }) {
  const [code, setCode] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void props.onSay(code);
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
      <label className="grid gap-0.5 text-[13px] text-soft">
        What your device shows now
        <input
          className="field text-ink"
          name="code"
          autoComplete="one-time-code"
          required
          value={code}
          onChange={(event) => setCode(event.target.value)}
        />
      </label>
      <button type="submit" className="button">
        {props.says}
      </button>
      <button type="button" className="quiet-button" onClick={props.onClose}>
        cancel
      </button>
    </form>
  );
}
