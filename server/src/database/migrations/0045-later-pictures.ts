import type { Sequelize } from 'sequelize'

/** A look may take a second picture a moment later, by which what moves by itself is known. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table rehearsal_picture add moment smallint not null default 0;
    alter table rehearsal_picture drop constraint rehearsal_picture_pkey;
    alter table rehearsal_picture add primary key (rehearsal_id, page_id, lens_id, turn, step, moment);
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    delete from rehearsal_picture where moment > 0;
    alter table rehearsal_picture drop constraint rehearsal_picture_pkey;
    alter table rehearsal_picture drop moment;
    alter table rehearsal_picture add primary key (rehearsal_id, page_id, lens_id, turn, step);
  `)
}
