import type {
  AuditTable,
  CloneKeysTable,
  GroupMembersTable,
  GroupRolesTable,
  GroupsTable,
  IdentitiesTable,
  InvitesTable,
  PeopleTable,
  PortraitsTable,
  RolesTable,
  SecondStepsTable,
  SecretsTable,
  SessionsTable,
  TokensTable,
} from "./tables/access";
import type {
  CarriedTable,
  ChangeLabelsTable,
  ChangeLoadsTable,
  ChangePathsTable,
  ChangeSetPeopleTable,
  ChangeSetsTable,
  ChangeWordsTable,
  EventsTable,
  FollowersTable,
  LedgerPeopleTable,
  SettledLedgersTable,
} from "./tables/log";
import type {
  ImagesTable,
  ListsTable,
  LooksTable,
  MessagesTable,
  NoticesTable,
  PicksTable,
  ReadMarksTable,
  UnfollowedTable,
  UnsentTable,
  WishesTable,
} from "./tables/own";
import type {
  DeliveriesTable,
  HooksTable,
  LabelsTable,
  NeighboursTable,
  OriginsTable,
  RefIntentsTable,
  RefMovesTable,
  RepositoriesTable,
  RuleMessagesTable,
  RuleSetsTable,
  SharedListsTable,
  WorkItemsTable,
} from "./tables/repositories";
import type {
  AnchorHistoriesTable,
  CheckLogsTable,
  ComparisonsTable,
  LeftAloneTable,
  ReadingsTable,
  ReportsTable,
} from "./tables/worked-out";

/** Times are milliseconds since 1970; ids are ULIDs; flags are 0 or 1. */
export interface Schema {
  people: PeopleTable;
  portraits: PortraitsTable;
  clone_keys: CloneKeysTable;
  sessions: SessionsTable;
  second_steps: SecondStepsTable;
  identities: IdentitiesTable;
  repositories: RepositoriesTable;
  origins: OriginsTable;
  neighbours: NeighboursTable;
  invites: InvitesTable;
  roles: RolesTable;
  own_roles: RolesTable;
  groups: GroupsTable;
  group_members: GroupMembersTable;
  group_roles: GroupRolesTable;
  rule_sets: RuleSetsTable;
  rule_messages: RuleMessagesTable;
  reports: ReportsTable;
  check_logs: CheckLogsTable;
  work_items: WorkItemsTable;
  events: EventsTable;
  change_sets: ChangeSetsTable;
  change_set_people: ChangeSetPeopleTable;
  change_words: ChangeWordsTable;
  lists: ListsTable;
  shared_lists: SharedListsTable;
  notices: NoticesTable;
  unsent: UnsentTable;
  read_marks: ReadMarksTable;
  comparisons: ComparisonsTable;
  readings: ReadingsTable;
  left_alone: LeftAloneTable;
  ref_intents: RefIntentsTable;
  ref_moves: RefMovesTable;
  audit: AuditTable;
  picks: PicksTable;
  carried: CarriedTable;
  images: ImagesTable;
  tokens: TokensTable;
  followers: FollowersTable;
  messages: MessagesTable;
  unfollowed: UnfollowedTable;
  anchor_histories: AnchorHistoriesTable;
  looks: LooksTable;
  secrets: SecretsTable;
  wishes: WishesTable;
  change_loads: ChangeLoadsTable;
  change_paths: ChangePathsTable;
  labels: LabelsTable;
  ledger_people: LedgerPeopleTable;
  settled_ledgers: SettledLedgersTable;
  change_labels: ChangeLabelsTable;
  hooks: HooksTable;
  deliveries: DeliveriesTable;
}
