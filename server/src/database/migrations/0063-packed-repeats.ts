import type { Sequelize } from 'sequelize'

/** The repeats of a page are nearly the same: one of them holds all, and the others say which. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`alter table reading add column detail_in integer,
    add constraint reading_detail_once check (detail is null or detail_in is null)`)
}

/** What is packed together can't be read without it. */
export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table reading drop column detail_in')
}
