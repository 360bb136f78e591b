import type { Sequelize } from 'sequelize'

/** Which drafts break something, drafts set aside for it, and rehearsals that throw out what breaks a guard. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table draft add column aside jsonb;
    alter table rehearsal add column best jsonb;
    create unique index rehearsal_next_round on rehearsal ((best ->> 'after')) where best ->> 'after' is not null;
    create table culprit_search (
      id serial primary key,
      rehearsal_id integer not null references rehearsal on delete cascade,
      page_id integer not null references page on delete cascade,
      lens_id integer not null references lens on delete cascade,
      guard text not null,
      found jsonb not null,
      state text not null default 'running' check (state in ('running', 'done', 'stopped', 'failed')),
      suspects jsonb not null,
      tries jsonb not null default '[]',
      culprits jsonb,
      goes_on boolean not null,
      failure text,
      started_at timestamptz not null default clock_timestamp(),
      finished_at timestamptz
    );
    create index culprit_search_of_rehearsal on culprit_search (rehearsal_id);
    create unique index culprit_search_under_way on culprit_search (rehearsal_id, page_id, lens_id, guard)
      where state = 'running';
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    drop table culprit_search;
    drop index rehearsal_next_round;
    alter table rehearsal drop column best;
    alter table draft drop column aside;
  `)
}
