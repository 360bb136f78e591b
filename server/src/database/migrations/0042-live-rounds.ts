import type { Sequelize } from 'sequelize'

/**
 * Guards can be played on the live site by themselves, in a round that is held against one before that was as it should be. And of a
 * step that fails a picture is kept.
 */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table rehearsal add is_round boolean not null default false;
    alter table rehearsal add sound boolean not null default false;
    alter table rehearsal add against integer;
    create index rehearsal_round on rehearsal (site_id, id desc) where is_round and sound;
    alter table rehearsal_picture add step text not null default '';
    alter table rehearsal_picture drop constraint rehearsal_picture_pkey;
    alter table rehearsal_picture add primary key (rehearsal_id, page_id, lens_id, turn, step);
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    delete from rehearsal_picture where step <> '';
    alter table rehearsal_picture drop constraint rehearsal_picture_pkey;
    alter table rehearsal_picture add primary key (rehearsal_id, page_id, lens_id, turn);
    alter table rehearsal_picture drop step;
    delete from rehearsal where is_round;
    drop index rehearsal_round;
    alter table rehearsal drop is_round;
    alter table rehearsal drop sound;
    alter table rehearsal drop against;
  `)
}
