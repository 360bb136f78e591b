import type { Sequelize } from 'sequelize'

/** More of what the connector says of pages and add-ons. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table page
      add column signed_in boolean not null default false,
      add column modified date,
      add column views integer;
    alter table add_on
      add column active boolean not null default true,
      add column since timestamptz,
      add column versions text[] not null default '{}',
      add column features jsonb not null default '[]',
      add column settings jsonb not null default '[]',
      add column tables jsonb not null default '[]',
      add column tasks jsonb not null default '[]',
      add column works text,
      add column inserted_by text;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table page drop column signed_in, drop column modified, drop column views;
    alter table add_on drop column active, drop column since, drop column versions, drop column features,
      drop column settings, drop column tables, drop column tasks, drop column works, drop column inserted_by;
  `)
}
