"use client";
import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type FormEvent, useContext, useEffect, useState } from "react";
import { ask, reasonFrom, SIGNED_OUT, signInAddress } from "../asking/ask";
import { DraftOwner } from "../kept/use-draft";
import { WhenOpened } from "../parts/when-opened";
import { type Credentials, NameAndPassword } from "./name-and-password";

/** The dialog takes the focus: whoever types is let finish first, or the rest of their sentence would stand as their name. In milliseconds. */
const PAUSE = 800;

/** Shown over a page whose session has ended: what is being typed stays as it is, and goes on from there. */
export function SignInAgain() {
  const owner = useContext(DraftOwner);
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [given, setGiven] = useState<Credentials>({ name: "", password: "" });
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    let typedAt = Number.NEGATIVE_INFINITY;
    let waiting: ReturnType<typeof setTimeout> | undefined;
    const typed = () => {
      typedAt = Date.now();
    };
    const show = () => {
      clearTimeout(waiting);
      // A page that nobody was signed in on has nothing to go on with.
      if (owner === "") window.location.assign(signInAddress());
      else if (Date.now() - typedAt >= PAUSE) setOpen(true);
      else waiting = setTimeout(show, PAUSE);
    };
    window.addEventListener(SIGNED_OUT, show);
    window.addEventListener("keydown", typed, true);
    return () => {
      clearTimeout(waiting);
      window.removeEventListener(SIGNED_OUT, show);
      window.removeEventListener("keydown", typed, true);
    };
  }, [owner]);
  const enter = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      const { id } = await ask("POST /api/sign-in", { body: given });
      if (id === null) return setGiven((now) => ({ ...now, code: "" }));
      // Somebody else sees what is theirs, and not what was typed here.
      if (id !== owner) return window.location.reload();
      setOpen(false);
      setGiven(({ name }) => ({ name, password: "" }));
      setProblem("");
      window.dispatchEvent(new Event("online"));
      await client.invalidateQueries();
    } catch (error) {
      setProblem(reasonFrom(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <WhenOpened open={open}>
      <Dialog.Root open={open} onOpenChange={setOpen}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-50 bg-black/35" />
          <Dialog.Content className="sheet fixed top-[18vh] left-1/2 z-50 w-[92vw] max-w-sm -translate-x-1/2 px-6 py-5">
            <Dialog.Title className="font-serif text-xl font-semibold">Sign in again</Dialog.Title>
            <Dialog.Description className="mt-1 text-soft">
              Your session has ended. What you wrote is still here.
            </Dialog.Description>
            <form className="mt-4 grid gap-3" onSubmit={enter}>
              <NameAndPassword value={given} onChange={(part) => setGiven((now) => ({ ...now, ...part }))} />
              <p role="alert" className="text-clay">
                {problem}
              </p>
              <p className="flex items-center gap-4">
                <button
                  type="submit"
                  className="button-main"
                  disabled={busy || given.name === "" || given.password === ""}
                >
                  {busy ? "Signing in …" : "Sign in"}
                </button>
                <a className="quiet-button" href="/sign-in">
                  the sign-in page
                </a>
              </p>
            </form>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </WhenOpened>
  );
}
