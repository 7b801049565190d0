import type { Migration } from "kysely";
import * as first from "./0001-first";
import * as readings from "./0002-readings";
import * as conversation from "./0003-conversation";
import * as courses from "./0004-courses";
import * as rules from "./0005-rules";
import * as settings from "./0006-settings";
import * as looks from "./0007-looks";
import * as keeping from "./0008-keeping";
import * as replies from "./0009-replies";
import * as peopleOfChange from "./0010-people-of-change";
import * as keptByUse from "./0011-kept-by-use";
import * as lists from "./0012-lists";
import * as notices from "./0013-notices";
import * as settingUp from "./0014-setting-up";
import * as mailAnswers from "./0015-mail-answers";
import * as hooks from "./0016-hooks";
import * as wishes from "./0017-wishes";
import * as ledger from "./0018-ledger";
import * as changeFacts from "./0019-change-facts";
import * as labels from "./0020-labels";
import * as sharedLists from "./0021-shared-lists";
import * as secondSteps from "./0022-second-steps";
import * as ledgerPeople from "./0023-ledger-people";
import * as newToMe from "./0024-new-to-me";
import * as portraits from "./0025-portraits";
import * as groups from "./0026-groups";
import * as cloneKeys from "./0027-clone-keys";
import * as neighbours from "./0028-neighbours";
import * as hooksOfAll from "./0029-hooks-of-all";
import * as checkLogs from "./0030-check-logs";
import * as joinedPeople from "./0031-joined-people";
import * as toldRevocations from "./0032-told-revocations";
import * as settledLedgers from "./0033-settled-ledgers";
import * as theirNames from "./0034-their-names";
import * as picksAsTheyStood from "./0035-picks-as-they-stood";
import * as numberOfWords from "./0036-number-of-words";
import * as historiesByChange from "./0037-histories-by-change";
import * as agreedRules from "./0038-agreed-rules";
import * as marksOfCommits from "./0039-marks-of-commits";
import * as answeredMessages from "./0040-answered-messages";
import * as ruleMessages from "./0041-rule-messages";
import * as branchesOfChanges from "./0042-branches-of-changes";

/** In order. A migration that has been released is never changed: add the next one. */
export const migrations: Record<string, Migration> = {
  "0001-first": first,
  "0002-readings": readings,
  "0003-conversation": conversation,
  "0004-courses": courses,
  "0005-rules": rules as Migration,
  "0006-settings": settings,
  "0007-looks": looks,
  "0008-keeping": keeping as Migration,
  "0009-replies": replies,
  "0010-people-of-change": peopleOfChange,
  "0011-kept-by-use": keptByUse,
  "0012-lists": lists,
  "0013-notices": notices,
  "0014-setting-up": settingUp,
  "0015-mail-answers": mailAnswers,
  "0016-hooks": hooks,
  "0017-wishes": wishes,
  "0018-ledger": ledger,
  "0019-change-facts": changeFacts,
  "0020-labels": labels,
  "0021-shared-lists": sharedLists,
  "0022-second-steps": secondSteps,
  "0023-ledger-people": ledgerPeople,
  "0024-new-to-me": newToMe as Migration,
  "0025-portraits": portraits,
  "0026-groups": groups,
  "0027-clone-keys": cloneKeys,
  "0028-neighbours": neighbours,
  "0029-hooks-of-all": hooksOfAll,
  "0030-check-logs": checkLogs,
  "0031-joined-people": joinedPeople,
  "0032-told-revocations": toldRevocations,
  "0033-settled-ledgers": settledLedgers,
  "0034-their-names": theirNames,
  "0035-picks-as-they-stood": picksAsTheyStood,
  "0036-number-of-words": numberOfWords,
  "0037-histories-by-change": historiesByChange,
  "0038-agreed-rules": agreedRules,
  "0039-marks-of-commits": marksOfCommits,
  "0040-answered-messages": answeredMessages,
  "0041-rule-messages": ruleMessages,
  "0042-branches-of-changes": branchesOfChanges,
};
