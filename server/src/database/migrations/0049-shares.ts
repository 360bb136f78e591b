import type { Sequelize } from 'sequelize'

/** Whose gain a proof tells of, found by readings of a page under sets of its changes. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table share_finding (
      id integer generated always as identity primary key,
      proof_id integer not null references proof on delete cascade,
      sweep_id integer not null references sweep on delete cascade,
      page_id integer not null references page on delete cascade,
      changes jsonb not null,
      plan jsonb not null,
      ways jsonb not null
    );
    create index on share_finding (proof_id, id desc);
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query("drop table share_finding; delete from sweep where purpose = 'shares'")
}
