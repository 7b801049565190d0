/** All routes of the API by their paths, as the folders of `src/app/api` name them; made where the command line is bundled (`scripts/prepare.mjs`). */
declare module "virtual:routes" {
  export const ROUTES: Readonly<Record<string, () => Promise<Record<string, import("@/server/app/serve").Route>>>>;
}
