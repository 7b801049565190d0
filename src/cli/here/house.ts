/** What a command needs of the server to ask a clone in its own process: no more, so that it begins at once. */
export { beginSession, endSession } from "@/server/access/sessions";
export { app } from "@/server/app/context";
export { adoptClone } from "@/server/keeping/adopt";
