import type { Sequelize } from 'sequelize'

/** What the maintainer adds to the inventory, what is known of use, what was decided, and the tolls of single files. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table add_on
      add gone boolean not null default false,
      add blocks text[] not null default '{}',
      add jobs text[] not null default '{}',
      add by_hand jsonb not null default '{}',
      add imported jsonb not null default '{}';
    alter table sweep add inventory jsonb not null default '[]';
    create table use_fact (
      id bigint generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      page_id integer references page on delete cascade,
      slug text not null,
      feature text,
      source text not null,
      word text not null,
      because text not null,
      who text,
      sweep_id integer references sweep on delete cascade,
      at timestamptz not null default now()
    );
    create index on use_fact (site_id, slug);
    create index on use_fact (sweep_id, page_id);
    create unique index on use_fact (site_id, slug, coalesce(page_id, 0)) where source = 'hand';
    create table touch (
      site_id integer not null references site on delete cascade,
      slug text not null,
      page_id integer not null references page on delete cascade,
      touches integer not null,
      primary key (site_id, slug, page_id)
    );
    create table verdict (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      slug text not null,
      verdict text not null,
      why text not null,
      who text not null,
      at timestamptz not null default now()
    );
    create index on verdict (site_id, slug, id desc);
    create table question (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      slug text not null,
      asks text not null,
      whom text not null,
      asked_at timestamptz not null default now(),
      answer text,
      answered_at timestamptz
    );
    create index on question (site_id);
    create table dismissal (
      site_id integer not null references site on delete cascade,
      move text not null,
      why text not null,
      at timestamptz not null default now(),
      primary key (site_id, move)
    );
    create table file_toll (
      sweep_id integer not null references sweep on delete cascade,
      page_id integer not null references page on delete cascade,
      payer text not null,
      url text not null,
      type text not null,
      requests integer not null,
      transfer_bytes bigint not null,
      decoded_bytes bigint not null,
      idle_bytes bigint not null,
      main_thread_ms double precision not null
    );
    create index on file_toll (sweep_id, payer);
    create index on file_toll (sweep_id, page_id);
    create table ledger_pack (
      sweep_id integer primary key references sweep on delete cascade,
      packed bytea not null,
      made_at timestamptz not null default clock_timestamp()
    );
    create index toll_payer on toll (sweep_id, variant, payer);
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    drop index toll_payer;
    drop table ledger_pack, file_toll, dismissal, question, verdict, touch, use_fact;
    alter table sweep drop inventory;
    alter table add_on drop gone, drop blocks, drop jobs, drop by_hand, drop imported;
  `)
}
