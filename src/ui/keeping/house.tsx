"use client";
import { useState } from "react";
import { ask, reasonFrom } from "../asking/ask";
import { Backups } from "./backups";
import { sizeOf } from "./size";

export interface HouseView {
  /** Where mail goes out, without its password; null where none does. */
  mail: string | null;
  standIn: boolean;
  from: string;
  well: boolean;
  why: string | null;
  /** On the disk of the data folder, in bytes. */
  free: number;
  data: string;
  version: string;
}

/** How the installation is: its mail, which can be tried, its disk, and its backups. */
export function House({ mail, standIn, from, well, why, free, data, version }: HouseView) {
  const [said, setSaid] = useState<{ words: string; wrong: boolean } | null>(null);
  const [busy, setBusy] = useState(false);
  const tryIt = async () => {
    setBusy(true);
    try {
      const { to } = await ask("POST /api/keeping/mail");
      setSaid({ words: `The mail server took a test message for ${to}.`, wrong: false });
    } catch (error) {
      setSaid({ words: reasonFrom(error), wrong: true });
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="grid gap-6">
      <section aria-label="Mail">
        <h2 className="font-serif text-xl font-semibold">Mail</h2>
        <p>
          {mail
            ? `Goes out by ${mail}, from ${from}.`
            : standIn
              ? "The stand-in takes all mail itself; nothing goes out."
              : "None goes out: no mail server is set."}
        </p>
        <p className="mt-2">
          <button type="button" className="button" disabled={busy} onClick={() => void tryIt()}>
            {busy ? "Sending …" : "Send me a test message"}
          </button>
        </p>
        {said && (
          <p role={said.wrong ? "alert" : "status"} className={`mt-2 ${said.wrong ? "text-clay" : "text-teal"}`}>
            {said.words}
          </p>
        )}
        <p className="mt-2 text-[13px] text-soft">
          It is set where the server is started: <code className="font-mono">LENS_MAIL</code>,{" "}
          <code className="font-mono">LENS_MAIL_FROM</code>.
        </p>
      </section>
      <section aria-label="Other systems">
        <h2 className="font-serif text-xl font-semibold">Other systems</h2>
        <p>
          Addresses can be told what happens in{" "}
          <a className="text-slate underline underline-offset-2 hover:decoration-2" href="/keeping/hooks">
            all repositories
          </a>
          ; those of one are on its own page.{" "}
          <a className="text-slate underline underline-offset-2 hover:decoration-2" href="/keeping/neighbours">
            Other servers
          </a>{" "}
          can be asked for what was said of the same repository there.
        </p>
      </section>
      <section aria-label="Disk">
        <h2 className="font-serif text-xl font-semibold">Disk</h2>
        <p className={well ? "" : "text-clay"}>{well ? "Everything can be read and written." : why}</p>
        <p className="text-soft">
          {sizeOf(free)} are free where the data folder is: <code className="font-mono text-[12.5px]">{data}</code>.
        </p>
      </section>
      <Backups />
      <p className="text-[13px] text-soft">Version {version}.</p>
    </div>
  );
}
