import type { Sequelize } from 'sequelize'

/** After a change is live its guards are played as visitors see them: what a site wants of that, and where it was done. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table site add column net text not null default 'take-back' check (net in ('take-back', 'tell', 'off'));
    alter table rehearsal add column deployment_id integer references deployment on delete cascade;
    alter table rehearsal drop constraint rehearsal_mechanism_check;
    alter table rehearsal add constraint rehearsal_mechanism_check check (mechanism in ('site', 'rewriter', 'live'));
    alter table deployment add column drafts jsonb not null default '[]';
    alter table deployment add column net_id integer references rehearsal on delete set null;
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table deployment drop column net_id, drop column drafts;
    delete from rehearsal where mechanism = 'live';
    alter table rehearsal drop constraint rehearsal_mechanism_check;
    alter table rehearsal add constraint rehearsal_mechanism_check check (mechanism in ('site', 'rewriter'));
    alter table rehearsal drop column deployment_id;
    alter table site drop column net;
  `)
}
