import type { Sequelize } from 'sequelize'

const KINDS = ['server', 'without', 'actions', 'steps', 'pictures', 'files', 'ideas', 'film', 'verify', 'smaller', 'consent'] // prettier-ignore
const kindsAre = (kinds: readonly string[]) => `
  alter table reading_on_demand drop constraint reading_on_demand_kind_check;
  alter table reading_on_demand add constraint reading_on_demand_kind_check
    check (kind in (${kinds.map((kind) => `'${kind}'`).join(', ')}));`

/** What of a site's stylesheets no page and no step has used. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(kindsAre([...KINDS, 'nowhere']))
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`delete from reading_on_demand where kind = 'nowhere'; ${kindsAre(KINDS)}`)
}
