import type { Sequelize } from 'sequelize'

/** Whether a file is asked for by the page's own HTML and by nothing else; null of pages that an earlier version has read. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table page_file add column in_html boolean')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table page_file drop column in_html')
}
