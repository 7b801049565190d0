"use client";
import { valibotResolver } from "@hookform/resolvers/valibot";
import { useEffect, useRef, useState } from "react";
import { useForm } from "react-hook-form";
import * as v from "valibot";
import type { TakingRequest, TakingView } from "@/core/views/setting-up-view";
import { ask, reasonFrom } from "../asking/ask";
import { Field } from "../parts/field";

const WAYS = {
  address: "from an address",
  bundle: "from a bundle",
  folder: "from a folder of the server",
  nothing: "empty, to push to",
} as const;
type Way = keyof typeof WAYS;

const EMPTY = {
  way: "address" as Way,
  name: "",
  url: "",
  account: "",
  secret: "",
  path: "",
  branch: "main",
  every: "0",
};
const takingForm = v.pipe(
  v.object({
    way: v.picklist(Object.keys(WAYS) as Way[]),
    name: v.pipe(v.string(), v.trim(), v.minLength(1, "Give it a name.")),
    ...{ url: v.string(), account: v.string(), secret: v.string(), path: v.string(), branch: v.string() },
    every: v.string(),
  }),
  v.forward(
    v.partialCheck([["way"], ["url"]], ({ way, url }) => way !== "address" || url.trim() !== "", "Say where it is."),
    ["url"],
  ),
  v.forward(
    v.partialCheck([["way"], ["path"]], ({ way, path }) => way !== "folder" || path.trim() !== "", "Say where it is."),
    ["path"],
  ),
);
type Taking = v.InferOutput<typeof takingForm>;

/** How often a mirror is fetched, in minutes. */
export const EVERY = {
  "0": "only when asked",
  "15": "every quarter of an hour",
  "60": "every hour",
  "1440": "every day",
};

/** Takes repositories in, and tells how far each is; one that goes on can be cancelled. */
export function TakeIn({ initial, begin, onTaken }: { initial: TakingView[]; begin: boolean; onTaken: () => void }) {
  const [takings, setTakings] = useState(initial);
  const [open, setOpen] = useState(begin);
  const form = useForm({ defaultValues: EMPTY, criteriaMode: "all", resolver: valibotResolver(takingForm) });
  const { register } = form;
  const { errors } = form.formState;
  const way = form.watch("way");
  const [file, setFile] = useState<File | null>(null);
  const [problem, setProblem] = useState("");
  const going = takings.some(({ state }) => state === "going");
  const told = useRef(onTaken);
  told.current = onTaken;
  const look = async () => {
    const now = await ask("GET /api/keeping/takings");
    setTakings(now);
    return now.some(({ state }) => state === "going");
  };
  useEffect(() => {
    if (!going) return;
    const timer = setInterval(() => {
      look().then(
        (more) => !more && told.current(),
        (error: unknown) => setProblem(reasonFrom(error)),
      );
    }, 700);
    return () => clearInterval(timer);
  });
  const take = form.handleSubmit(async (given) => {
    setProblem("");
    const { name } = given;
    try {
      if (given.way === "bundle") {
        if (!file) return setProblem("Choose the bundle.");
        setOpen(false);
        const sending = ask("POST /api/keeping/takings/{name}", { parts: { name }, body: file });
        setTimeout(() => void look(), 300);
        const taken = await sending;
        await look();
        if (taken.state === "taken") told.current();
        return;
      }
      await ask("POST /api/keeping/takings", { body: { name, from: fromOf(given) } });
      setOpen(false);
      form.reset();
      if (!(await look())) told.current();
    } catch (error) {
      setOpen(true);
      setProblem(reasonFrom(error));
    }
  });
  const end = async (id: string) => {
    try {
      await ask("DELETE /api/keeping/takings/{name}", { parts: { name: id } });
      await look();
    } catch (error) {
      setProblem(reasonFrom(error));
    }
  };
  const field = (label: string, key: keyof typeof EMPTY, type = "text", placeholder = "") => (
    <Field {...{ label, type, placeholder, autoComplete: "off", error: errors[key]?.message }} {...register(key)} />
  );
  return (
    <section aria-label="Taking in" className="mb-6">
      {takings.length > 0 && (
        <ul className="mb-3 grid gap-2">
          {takings.map(({ id, name, says, state }) => (
            <li
              key={id}
              className={`flex flex-wrap items-baseline gap-x-4 rounded-md border border-l-4 border-rule px-3 py-1.5 ${state === "refused" ? "border-l-clay" : state === "taken" ? "border-l-teal" : "border-l-brass"}`}
            >
              <span className="font-semibold">{name}</span>
              <span role={state === "refused" ? "alert" : "status"} className="min-w-0 flex-1 break-words text-soft">
                {state === "going" && "is being taken in: "}
                {state === "taken" && "is here. "}
                {state === "refused" && "was not taken in. "}
                {says}
              </span>
              <button type="button" className="quiet-button" onClick={() => void end(id)}>
                {state === "going" ? "cancel" : "put away"}
              </button>
            </li>
          ))}
        </ul>
      )}
      {problem && (
        <p role="alert" className="mb-2 text-clay">
          {problem}
        </p>
      )}
      {!open ? (
        <button type="button" className="button" onClick={() => setOpen(true)}>
          Take a repository in …
        </button>
      ) : (
        <form
          aria-label="Take a repository in"
          className="grid gap-3 rounded-md border border-rule bg-paper px-4 py-3"
          noValidate
          onSubmit={take}
        >
          <fieldset className="flex flex-wrap gap-x-5 gap-y-1">
            <legend className="pb-1 text-[13px] text-soft">Where it comes from</legend>
            {(Object.keys(WAYS) as Way[]).map((one) => (
              <label key={one} className="flex items-center gap-2">
                <input type="radio" value={one} {...register("way")} />
                {WAYS[one]}
              </label>
            ))}
          </fieldset>
          <div className="grid grid-cols-2 gap-3 max-[700px]:grid-cols-1">
            {field("Its name here: small letters, digits, dots, dashes", "name")}
            {way === "address" && (
              <>
                {field("Address", "url", "url", "https://git.example.org/planner.git")}
                {field("Name to come in with, if it asks", "account")}
                {field("Password or token, if it asks", "secret", "password")}
                <label className="grid gap-0.5 text-[13px] text-soft">
                  Fetched again
                  <select className="field text-ink" {...register("every")}>
                    {Object.entries(EVERY).map(([value, label]) => (
                      <option key={value} value={value}>
                        {label}
                      </option>
                    ))}
                  </select>
                </label>
              </>
            )}
            {way === "folder" &&
              field("The folder, on the machine that the server runs on", "path", "text", "/srv/git/planner.git")}
            {way === "nothing" && field("Its main branch", "branch")}
            {way === "bundle" && (
              <label className="grid gap-0.5 text-[13px] text-soft">
                The file that “git bundle create FILE --all” makes
                <input
                  type="file"
                  className="field text-ink"
                  onChange={(event) => setFile(event.target.files?.[0] ?? null)}
                />
              </label>
            )}
          </div>
          <p className="flex gap-3">
            <button type="submit" className="button-main">
              Take it in
            </button>
            <button type="button" className="quiet-button" onClick={() => setOpen(false)}>
              leave it
            </button>
          </p>
        </form>
      )}
    </section>
  );
}

function fromOf({ way, url, account, secret, path, branch, every }: Taking): TakingRequest["from"] {
  if (way === "address") return { kind: "address", url, account, secret, every: Number(every) };
  return way === "folder" ? { kind: "folder", path } : { kind: "nothing", branch };
}
