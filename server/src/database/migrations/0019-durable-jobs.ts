import type { Sequelize } from 'sequelize'

/**
 * Who works here, how often each job was begun, why a sweep stands still, which sweeps are one run, and changes of the live
 * rules as deployments. The three readings that are taken on demand become one kind of thing.
 */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table instance (single boolean primary key default true check (single), key_id text not null);
    create table worker (
      id uuid primary key,
      host text not null,
      pid integer not null,
      started_at timestamptz not null default now(),
      seen_at timestamptz not null default now()
    );
    create table job_try (job text not null, key text not null, tries integer not null, primary key (job, key));
    alter table sweep add column why text, add column run_id integer;
    update sweep set run_id = id;
    create index on sweep (run_id);
    create index on sweep_page (sweep_id, state);

    create table reading_on_demand (
      id integer generated always as identity primary key,
      kind text not null check (kind in ('server', 'without', 'actions')),
      site_id integer not null references site on delete cascade,
      page_id integer references page on delete cascade,
      wish jsonb not null,
      taken jsonb not null,
      failure text,
      state text not null default 'waiting' check (state in ('waiting', 'done')),
      taken_at timestamptz not null default now()
    );
    create index on reading_on_demand (kind, site_id, page_id, id desc);
    create unique index on reading_on_demand (kind, site_id, coalesce(page_id, 0)) where state = 'waiting';
    insert into reading_on_demand (kind, site_id, page_id, wish, taken, failure, state, taken_at)
      select 'server', site_id, page_id, jsonb_build_object('times', wanted), readings, failure, 'done', taken_at
      from server_reading join page on page.id = page_id order by server_reading.id;
    insert into reading_on_demand (kind, site_id, page_id, wish, taken, failure, state, taken_at)
      select 'without', site_id, page_id, jsonb_build_object('payers', payers, 'hosts', hosts, 'repeats', repeats), sides,
        failure, 'done', taken_at
      from without_reading join page on page.id = page_id order by without_reading.id;
    insert into reading_on_demand (kind, site_id, page_id, wish, taken, failure, state, taken_at)
      select 'actions', site_id, null, jsonb_build_object('times', wanted), actions, failure, 'done', taken_at
      from action_reading order by id;
    drop table server_reading, without_reading, action_reading;

    create table deployment (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      what text not null,
      kind text not null check (kind in ('drafts', 'take-back', 'adopt', 'restore')),
      from_version integer not null,
      to_version integer,
      from_rules jsonb not null,
      to_rules jsonb not null,
      draft_ids jsonb not null default '[]',
      state text not null,
      steps jsonb not null default '[]',
      failure text,
      proof_id integer references proof on delete set null,
      options jsonb not null default '{}',
      started_at timestamptz not null default now(),
      finished_at timestamptz
    );
    create index on deployment (site_id, id desc);
    create unique index on deployment (site_id) where finished_at is null;

    create table kept_view (
      sweep_id integer not null references sweep on delete cascade,
      view text not null,
      basis text not null,
      body jsonb not null,
      made_at timestamptz not null default now(),
      primary key (sweep_id, view)
    );
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    drop table kept_view, deployment, job_try, worker, instance;
    drop index sweep_page_sweep_id_state_idx;
    alter table sweep drop column why, drop column run_id;
    create table server_reading (
      id integer generated always as identity primary key,
      page_id integer not null references page on delete cascade,
      wanted integer not null,
      readings jsonb not null default '[]',
      failure text,
      state text not null default 'waiting',
      taken_at timestamptz not null default now()
    );
    create table without_reading (
      id integer generated always as identity primary key,
      page_id integer not null references page on delete cascade,
      payers text[] not null,
      hosts text[] not null,
      repeats integer not null,
      sides jsonb not null default '{"with": [], "without": []}',
      failure text,
      state text not null default 'waiting',
      taken_at timestamptz not null default now()
    );
    create table action_reading (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      wanted integer not null,
      actions jsonb not null default '[]',
      failure text,
      state text not null default 'waiting',
      taken_at timestamptz not null default now()
    );
    insert into server_reading (page_id, wanted, readings, failure, state, taken_at)
      select page_id, (wish ->> 'times')::int, taken, failure, 'done', taken_at from reading_on_demand
      where kind = 'server' order by id;
    insert into without_reading (page_id, payers, hosts, repeats, sides, failure, state, taken_at)
      select page_id, array(select jsonb_array_elements_text(wish -> 'payers')),
        array(select jsonb_array_elements_text(wish -> 'hosts')), (wish ->> 'repeats')::int, taken, failure, 'done', taken_at
      from reading_on_demand where kind = 'without' order by id;
    insert into action_reading (site_id, wanted, actions, failure, state, taken_at)
      select site_id, (wish ->> 'times')::int, taken, failure, 'done', taken_at from reading_on_demand
      where kind = 'actions' order by id;
    drop table reading_on_demand;
  `)
}
