import { aboutEndpoints } from "./about";
import { accessEndpoints } from "./access";
import { changeEndpoints } from "./change";
import { deskEndpoints } from "./desk";
import type { AnswerOf, BodyAsked, BodyRead, PartsOf, QueryAsked, QueryRead } from "./endpoint";
import { hookEndpoints } from "./hooks";
import { labelEndpoints } from "./labels";
import { neighbourEndpoints } from "./neighbours";
import { readingEndpoints } from "./reading";
import { repositoryEndpoints } from "./repository";
import { settingUpEndpoints } from "./setting-up";
import { syncEndpoints } from "./sync";

/**
 * Everything that can be asked of the server, by method and address. The handlers, the client of the browser and the document at
 * `/api/openapi.json` are all made of it.
 */
export const ENDPOINTS = {
  ...changeEndpoints,
  ...readingEndpoints,
  ...repositoryEndpoints,
  ...deskEndpoints,
  ...accessEndpoints,
  ...settingUpEndpoints,
  ...hookEndpoints,
  ...labelEndpoints,
  ...neighbourEndpoints,
  ...syncEndpoints,
  ...aboutEndpoints,
};

export type EndpointName = keyof typeof ENDPOINTS;
type At<K extends EndpointName> = (typeof ENDPOINTS)[K];

/** What has to be given to ask: by who asks, and as the server reads it. */
export type AskOf<K extends EndpointName> = Given<"parts", PartsOf<K>> &
  Given<"query", QueryAsked<At<K>>> &
  Given<"body", BodyAsked<At<K>>>;
export interface ReadOf<K extends EndpointName> {
  parts: PartsOf<K>;
  query: QueryRead<At<K>>;
  body: BodyRead<At<K>>;
}
export type Answer<K extends EndpointName> = AnswerOf<At<K>>;

/** Left out where there is nothing to give; optional where nothing has to be given. */
type Given<Name extends string, T> = [T] extends [undefined]
  ? unknown
  : Record<never, never> extends T
    ? { [N in Name]?: T }
    : { [N in Name]: T };
