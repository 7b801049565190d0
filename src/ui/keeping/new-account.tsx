"use client";
import { valibotResolver } from "@hookform/resolvers/valibot";
import { useState } from "react";
import { useForm } from "react-hook-form";
import { newAccountForm } from "@/core/house/account";
import type { AccountView } from "@/core/views/access-view";
import { ask, reasonFrom } from "../asking/ask";
import { Field } from "../parts/field";

const EMPTY = { name: "", fullName: "", email: "", password: "", machine: false, owner: "" };

/** A new account, of a person or of a program. */
export function NewAccount({ people, onAdded }: { people: AccountView[]; onAdded: (people: AccountView[]) => void }) {
  const [open, setOpen] = useState(false);
  const [problem, setProblem] = useState("");
  const form = useForm({ defaultValues: EMPTY, criteriaMode: "all", resolver: valibotResolver(newAccountForm) });
  const { register } = form;
  const { errors, isSubmitting } = form.formState;
  const add = form.handleSubmit(async (account) => {
    setProblem("");
    try {
      onAdded(await ask("POST /api/keeping/people", { body: account }));
      form.reset();
      setOpen(false);
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  });
  if (!open)
    return (
      <button type="button" className="button mt-3" onClick={() => setOpen(true)}>
        Add an account …
      </button>
    );
  const field = (label: string, key: "name" | "fullName" | "email" | "password", type = "text") => (
    <Field
      {...{ label, type, error: errors[key]?.message, autoComplete: type === "password" ? "new-password" : "off" }}
      {...register(key)}
    />
  );
  return (
    <form
      aria-label="A new account"
      className="mt-4 rounded-md border border-rule bg-paper px-4 py-3"
      noValidate
      onSubmit={add}
    >
      <div className="grid grid-cols-2 gap-3 max-[700px]:grid-cols-1">
        {field("Name to sign in with: small letters, digits, dots, dashes", "name")}
        {field("Full name, as others see it", "fullName")}
        {field("Mail address", "email")}
        {form.watch("machine") ? (
          <label className="grid content-start gap-0.5 text-[13px] text-soft">
            Whose it is: who answers for what it does
            <select className="field text-ink" {...register("owner")}>
              <option value="">those who keep this installation</option>
              {people
                .filter(({ machine, disabledAt }) => !machine && disabledAt === null)
                .map(({ name, fullName }) => (
                  <option key={name} value={name}>
                    {fullName}
                  </option>
                ))}
            </select>
          </label>
        ) : (
          field("Password, to be changed by them", "password", "password")
        )}
      </div>
      <label className="mt-2 flex items-center gap-2">
        <input type="checkbox" {...register("machine")} />a machine account: it signs in by token, and its word is no
        verdict
      </label>
      {problem && (
        <p role="alert" className="mt-2 text-clay">
          {problem}
        </p>
      )}
      <p className="mt-3 flex gap-3">
        <button type="submit" className="button-main" disabled={isSubmitting}>
          Add it
        </button>
        <button type="button" className="quiet-button" onClick={() => setOpen(false)}>
          leave it
        </button>
      </p>
    </form>
  );
}
