import type { Sequelize } from 'sequelize'

/** Hours in which nothing goes live, and drafts that wait for their hour. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table site add quiet jsonb not null default '{"zone": "UTC", "times": []}';
    create table put_off (
      id serial primary key,
      site_id integer not null references site on delete cascade,
      what text not null,
      due_at timestamptz not null,
      made_at timestamptz not null default now(),
      drafts jsonb not null,
      request jsonb not null,
      state text not null default 'waiting' check (state in ('waiting', 'begun', 'withdrawn', 'refused')),
      why text,
      deployment_id integer references deployment on delete set null
    );
    create index put_off_of_site on put_off (site_id, id desc);
    create unique index put_off_waiting on put_off (site_id) where state = 'waiting';
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table put_off; alter table site drop quiet')
}
