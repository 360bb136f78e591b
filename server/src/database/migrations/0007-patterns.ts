import type { Sequelize } from 'sequelize'

export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table pattern (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      pattern text not null,
      addon text not null,
      unique (site_id, pattern)
    );
    alter table sweep add column recomputing boolean not null default false;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table sweep drop column recomputing; drop table pattern')
}
