import type { Sequelize } from 'sequelize'

const KINDS = ['server', 'without', 'actions', 'steps', 'pictures', 'files', 'ideas', 'film', 'verify']
const kindsAre = (kinds: readonly string[]) => `
  alter table reading_on_demand drop constraint reading_on_demand_kind_check;
  alter table reading_on_demand add constraint reading_on_demand_kind_check
    check (kind in (${kinds.map((kind) => `'${kind}'`).join(', ')}));`

/** Pages that complain, cut down to what they complain for. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(kindsAre([...KINDS, 'smaller']))
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`delete from reading_on_demand where kind = 'smaller'; ${kindsAre(KINDS)}`)
}
