import type { Sequelize } from 'sequelize'

const KINDS = ['server', 'without', 'actions', 'steps', 'pictures', 'files', 'ideas']
const kindsAre = (kinds: readonly string[]) => `
  alter table reading_on_demand drop constraint reading_on_demand_kind_check;
  alter table reading_on_demand add constraint reading_on_demand_kind_check
    check (kind in (${kinds.map((kind) => `'${kind}'`).join(', ')}));`

/** What is painted while a page loads, before and after a change. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`${kindsAre([...KINDS, 'film'])}
    create table film_frame (
      reading_on_demand_id integer not null references reading_on_demand on delete cascade,
      side text not null check (side in ('before', 'after')),
      n integer not null,
      jpeg bytea not null,
      primary key (reading_on_demand_id, side, n)
    );
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`drop table film_frame; delete from reading_on_demand where kind = 'film'; ${kindsAre(KINDS)}`)
}
