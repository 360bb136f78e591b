import type { Sequelize } from 'sequelize'

/** Which rules that ran out were drafted to go, so that whoever throws such a draft away is not asked again. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table expiry_drafted (
      site_id integer not null references site on delete cascade,
      rule_id text not null,
      expires text not null,
      primary key (site_id, rule_id, expires)
    );
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('drop table expiry_drafted')
}
