import type { Sequelize } from 'sequelize'

/** Documents that are printed to PDF by the measuring browser. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table paper (
      id serial primary key,
      site_id integer not null references site on delete cascade,
      title text not null,
      html text not null,
      state text not null default 'printing' check (state in ('printing', 'done', 'failed')),
      why text,
      pdf bytea,
      asked_at timestamptz not null default now()
    );
    create index paper_site on paper (site_id, id);
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table paper')
}
