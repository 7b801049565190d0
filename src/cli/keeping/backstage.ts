/** What commands use of the server: loaded when one is called, so that help and commands that need none of it begin at once. */
export { audit, auditEntries, COMMAND_LINE } from "@/server/access/audit";
export { wordFor } from "@/server/access/here-word";
export { invite } from "@/server/access/invites";
export { addRepository, fetchRepository, findRepository } from "@/server/access/repositories";
export { makeToken } from "@/server/access/tokens";
export { openApp } from "@/server/app/context";
export { checked } from "@/server/app/http/http";
export { readingOwn } from "@/server/changes/reading-own";
export { labelsIn, removeLabel, setLabel } from "@/server/house/labels/labels";
export { addAccount, changeAccount } from "@/server/keeping/accounts";
export { adoptClone } from "@/server/keeping/adopt";
export { backUp, restore } from "@/server/keeping/backup";
export { checkAll } from "@/server/keeping/check";
export { dropGroup, groupsOf, keepGroup } from "@/server/keeping/groups";
export { changeRepository } from "@/server/keeping/repositories";
export { syncWith } from "@/server/ledger/exchange";
export { keepRules, rulesOf, setRule } from "@/server/rules/rules";
export { rebuild } from "@/store/log";
