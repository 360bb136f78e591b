import type { Sequelize } from 'sequelize'

/**
 * With a site go its pictures' bytes, and those who have them: which of them first is the database's affair, and by the end of it
 * both are gone. What only looks whether bytes still have somebody is held to it at the end as well.
 */
export async function up(sequelize: Sequelize): Promise<void> {
  for (const table of ['picture', 'rehearsal_picture'])
    await sequelize.query(`alter table ${table} alter constraint ${table}_bytes_id_fkey deferrable initially deferred`)
}

export async function down(sequelize: Sequelize): Promise<void> {
  for (const table of ['picture', 'rehearsal_picture'])
    await sequelize.query(`alter table ${table} alter constraint ${table}_bytes_id_fkey not deferrable`)
}
