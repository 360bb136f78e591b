import type { Sequelize } from 'sequelize'

/** How often a failure must be seen in a search, so that whoever looks at it is told what is really asked. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table culprit_search add sure smallint not null default 2 check (sure > 0)')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table culprit_search drop sure')
}
