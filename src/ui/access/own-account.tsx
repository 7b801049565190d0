"use client";
import { valibotResolver } from "@hookform/resolvers/valibot";
import { useEffect, useState } from "react";
import { useForm } from "react-hook-form";
import { ownAccountForm } from "@/core/house/account";
import { ask, reasonFrom } from "../asking/ask";
import { Field } from "../parts/field";

const EMPTY = { word: "", name: "", fullName: "", email: "", password: "" };

/**
 * An account of one's own: the first of an installation, or by an invitation. The word is taken out of the address, behind its `#`: what
 * stands there is not sent to servers, and in no log.
 */
export function OwnAccount({ way, next }: { way: "first-start" | "join"; next: string }) {
  const form = useForm({ defaultValues: EMPTY, resolver: valibotResolver(ownAccountForm) });
  const { register, setValue } = form;
  const { errors, isSubmitting } = form.formState;
  const [problem, setProblem] = useState("");
  const [given, setGiven] = useState(false);
  useEffect(() => {
    const word = decodeURIComponent(window.location.hash.slice(1));
    if (word === "") return;
    setValue("word", word);
    setGiven(true);
  }, [setValue]);
  const make = form.handleSubmit(async (body) => {
    setProblem("");
    try {
      await ask(`POST /api/${way}`, { body });
      window.location.assign(next);
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  });
  const field = (label: string, key: keyof typeof EMPTY, autoComplete: string, note: string, type = "text") => (
    <Field
      {...{ label, note, type, autoComplete, error: errors[key]?.message, className: "text-[15px] text-ink" }}
      {...register(key)}
    />
  );
  return (
    <form className="grid gap-3" aria-label="Your account" noValidate onSubmit={make}>
      {!given &&
        field(
          way === "join" ? "The word of your invitation" : "The one-time word",
          "word",
          "off",
          way === "join"
            ? "It stands at the end of the address that you were sent, behind the #."
            : "The server printed it when it started.",
        )}
      {field("Name", "name", "username", "To sign in with: small letters, digits, dots and dashes.")}
      {field("Full name", "fullName", "name", "As others see it.")}
      {field("Mail address", "email", "email", "It goes into the commits that you make here.", "email")}
      {field("Password", "password", "new-password", "Eight characters at least.", "password")}
      <p role="alert" className="min-h-5 text-clay">
        {problem}
      </p>
      <button type="submit" className="button-main justify-center" disabled={isSubmitting}>
        {way === "join" ? "Come in" : "Begin"}
      </button>
    </form>
  );
}
