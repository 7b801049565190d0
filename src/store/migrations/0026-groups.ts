import { type Kysely, sql } from "kysely";

/**
 * Groups of people, and the roles that their members have by them. What somebody may do is read from `roles` as before: it is the most of what they have
 * themselves and by their groups.
 */
export async function up(db: Kysely<unknown>): Promise<void> {
  await db.schema.alterTable("roles").renameTo("own_roles").execute();
  await db.schema
    .createTable("group_members")
    .addColumn("group", "text", (c) => c.notNull())
    .addColumn("person", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("group_members_key", ["group", "person"])
    .execute();
  await db.schema
    .createTable("group_roles")
    .addColumn("group", "text", (c) => c.notNull())
    .addColumn("repository", "text", (c) => c.notNull())
    .addColumn("role", "text", (c) => c.notNull())
    .addPrimaryKeyConstraint("group_roles_key", ["group", "repository"])
    .execute();
  await db.schema
    .createTable("groups")
    .addColumn("name", "text", (c) => c.primaryKey())
    .addColumn("made_at", "integer", (c) => c.notNull())
    .execute();
  await sql`
    create view roles as
    select person, repository, case max(rank) when 3 then 'keeper' when 2 then 'contributor' else 'reader' end as role
    from (
      select person, repository, case role when 'keeper' then 3 when 'contributor' then 2 else 1 end as rank from own_roles
      union all
      select group_members.person, group_roles.repository,
        case group_roles.role when 'keeper' then 3 when 'contributor' then 2 else 1 end as rank
      from group_members join group_roles on group_roles."group" = group_members."group"
    )
    group by person, repository
  `.execute(db);
}
