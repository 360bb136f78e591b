import type { Sequelize } from 'sequelize'

/** Searches for what a guard misses on the live site, in a round of guards. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table cause_search
      add round_id integer references rehearsal on delete cascade,
      add found jsonb,
      drop constraint cause_search_kind_check,
      add check (kind in ('errors', 'requests', 'guard')),
      add check ((kind = 'guard') = (round_id is not null and found is not null));
    create index cause_search_round on cause_search (round_id) where round_id is not null;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    delete from cause_search where kind = 'guard';
    alter table cause_search drop round_id, drop found, drop constraint cause_search_kind_check,
      add check (kind in ('errors', 'requests'));
  `)
}
