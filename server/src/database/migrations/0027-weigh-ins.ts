import type { Sequelize } from 'sequelize'

/** Variants of pages against each other, and what each reading of one tells. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table weigh_in (
      id serial primary key,
      site_id integer not null references site on delete cascade,
      sweep_id integer not null references sweep on delete cascade,
      title text not null,
      variants jsonb not null,
      add_ons text[] not null,
      created_at timestamptz not null default clock_timestamp()
    );
    create index on weigh_in (site_id, id desc);
    create index on weigh_in using gin (add_ons);
    alter table reading add column figures jsonb;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(
    "alter table reading drop column figures; drop table weigh_in; delete from sweep where purpose = 'weigh-in'",
  )
}
