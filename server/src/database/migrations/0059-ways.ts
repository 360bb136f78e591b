import type { Sequelize } from 'sequelize'

/** How a copy of a site is reached: a certificate of its own making, names that no DNS knows; and what it is a copy of. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`alter table site
    add certificate jsonb,
    add hosts jsonb not null default '[]',
    add copy_of integer references site (id) on delete set null check (copy_of <> id)`)
  await sequelize.query('create index site_copy_of on site (copy_of) where copy_of is not null')
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table site drop certificate, drop hosts, drop copy_of')
}
