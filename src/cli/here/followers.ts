/** What follows from what a command writes into a clone: loaded when something is written. */
export { holdFolder } from "@/server/app/serving-lock";
export { Ledgers } from "@/server/ledger/ledgers";
export { EventHandlers } from "@/server/merging/event-handlers";
export { Notices } from "@/server/news/notices";
export { settleIntents } from "@/server/refs/both";
