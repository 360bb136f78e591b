import type { Sequelize } from 'sequelize'

/** Effects are also tried for an add-on that nobody drafted anything about, and for only some of its files. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table rehearsal add effect_of text;
    alter table gentle_search add addon text;
    alter table gentle_search add files jsonb not null default '[]';
    create index gentle_search_of_place on gentle_search (site_id, page_id, addon, id desc) where addon is not null;
    create unique index gentle_search_alone on gentle_search (site_id) where state = 'running' and addon is not null;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    drop index gentle_search_alone;
    drop index gentle_search_of_place;
    alter table gentle_search drop files;
    alter table gentle_search drop addon;
    alter table rehearsal drop effect_of;
  `)
}
