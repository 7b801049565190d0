import type { GenericSchema, InferInput, InferOutput } from "valibot";
import type { Refusal } from "../../plain/outcome";

/** Who may ask: anyone; who is signed in or shows a token; who is signed in by a browser; those who keep the installation. */
export type Who = "everyone" | "signed-in" | "in-browser" | "administrators";

/** What is no JSON: bytes of a type, such as an image, or a stream. */
export interface Content {
  type: string;
  /** What it holds, in a sentence. */
  holds: string;
}

/** One way to ask the server for something. What its answer to a refusal looks like is the same for all: {@link Refusal}. */
export interface Endpoint {
  who: Who;
  /** What it does, in a sentence. */
  does: string;
  /** What can be said in the query of the address. */
  query?: GenericSchema;
  /** The JSON of the request, or what else its body is. */
  body?: GenericSchema | Content;
  /** The JSON of the answer; null where it has none. */
  answer: GenericSchema | Content | null;
  /** 201 where something was made, 303 where one is led elsewhere. Else 200, or 204 where the answer has no body. */
  status?: 201 | 303;
  /** Kinds of refusals beyond those that {@link refusalsOf} knows of. */
  refuses?: readonly Refusal["code"][];
}

export type Endpoints = Record<`${"GET" | "POST" | "PUT" | "DELETE"} /api/${string}`, Endpoint>;

export function isContent(what: GenericSchema | Content): what is Content {
  return "holds" in what;
}

/** The names of the parts of an address: "number" in `/changes/{number}`. */
export type PartName<Name extends string> = Name extends `${string}{${infer Part}}${infer Rest}`
  ? Part | PartName<Rest>
  : never;
export type PartsOf<Name extends string> = { [K in PartName<Name>]: string };

type Asked<S> = S extends GenericSchema ? InferInput<S> : undefined;
type Read<S> = S extends GenericSchema ? InferOutput<S> : undefined;

/** As it is asked for, and as the server reads it: with what is left out filled in. */
export type QueryAsked<E> = E extends { query: infer S } ? Asked<S> : undefined;
export type QueryRead<E> = E extends { query: infer S } ? Read<S> : undefined;
export type BodyAsked<E> = E extends { body: infer S } ? (S extends Content ? Blob : Asked<S>) : undefined;
export type BodyRead<E> = E extends { body: infer S } ? Read<S> : undefined;
export type AnswerOf<E> = E extends { answer: infer S } ? (S extends GenericSchema ? InferOutput<S> : null) : never;

/** Every kind of refusal an endpoint can answer with, the likely ones first. */
export function refusalsOf(name: string, { who, query, body, refuses = [] }: Endpoint): Refusal["code"][] {
  const codes = new Set<Refusal["code"]>();
  if (query || body) codes.add("invalid");
  if (who !== "everyone") codes.add("unauthenticated");
  if (!name.startsWith("GET ") || who !== "everyone") codes.add("forbidden");
  if (name.includes("{") || who === "administrators") codes.add("missing");
  for (const code of refuses) codes.add(code);
  if (body) codes.add("too-large");
  return [...codes, "internal", "unavailable"];
}
