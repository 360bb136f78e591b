import type { Sequelize } from 'sequelize'

/** Pictures of pages, and what of each file each page used, as ranges that PostgreSQL itself can unite. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table picture (
      sweep_id integer not null references sweep on delete cascade,
      page_id integer not null references page on delete cascade,
      variant text not null,
      jpeg bytea not null,
      width integer not null,
      height integer not null,
      primary key (sweep_id, page_id, variant)
    );
    create table file_use (
      sweep_id integer not null references sweep on delete cascade,
      page_id integer not null references page on delete cascade,
      url text not null,
      bytes bigint not null,
      payer text not null,
      used int4multirange not null,
      later int4multirange not null
    );
    create index on file_use (sweep_id, page_id);
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table picture; drop table file_use')
}
