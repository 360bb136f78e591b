import type { Sequelize } from 'sequelize'

/** On which pages each piece of unknown inline code was seen: what stands in several is a snippet. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`create table inline_seen (
    site_id int not null references site on delete cascade,
    hash text not null,
    page_id int not null references page on delete cascade,
    primary key (site_id, hash, page_id))`)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table inline_seen')
}
