import type { Sequelize } from 'sequelize'

/** What looks at pictures and files said that could be spared, held against the sweeps that come after. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table weight_promise (
      site_id integer not null references site on delete cascade,
      kind text not null check (kind in ('picture', 'file')),
      url text not null check (length(url) <= 1000),
      sweep_id integer references sweep on delete cascade,
      body_bytes bigint not null,
      bytes bigint not null,
      saving bigint not null check (saving > 0),
      made_at timestamptz not null default clock_timestamp(),
      primary key (site_id, kind, url)
    );
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table weight_promise')
}
