import type { Sequelize } from 'sequelize'

export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create table site (
      id integer generated always as identity primary key,
      address text not null unique,
      name text not null,
      cms jsonb not null,
      connector jsonb not null,
      connector_key text,
      own_hosts text[] not null default '{}',
      folders jsonb not null default '[]',
      asset_register jsonb not null default '{}',
      created_at timestamptz not null default now()
    );
    create table page (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      path text not null,
      title text not null,
      kind text not null,
      area text not null,
      position integer not null,
      unique (site_id, path)
    );
    create table add_on (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      slug text not null,
      kind text not null,
      name text not null,
      version text,
      author text,
      summary text not null default '',
      source text not null,
      needs text[] not null default '{}',
      library boolean not null default false,
      can_skip boolean not null default false,
      files jsonb not null default '[]',
      outside_hosts text[] not null default '{}',
      inline_ids text[] not null default '{}',
      unique (site_id, slug)
    );
    create table lens (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      name text not null,
      settings jsonb not null,
      unique (site_id, name)
    );
    create table sweep (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      lens_id integer not null references lens,
      purpose text not null,
      status text not null,
      repeats integer not null,
      variants jsonb not null,
      sources jsonb not null,
      started_at timestamptz not null default now(),
      finished_at timestamptz
    );
    create index on sweep (site_id, purpose, started_at desc);
    create table sweep_page (
      sweep_id integer not null references sweep on delete cascade,
      page_id integer not null references page on delete cascade,
      state text not null default 'waiting',
      primary key (sweep_id, page_id)
    );
    create table reading (
      id bigint generated always as identity primary key,
      sweep_id integer not null references sweep on delete cascade,
      page_id integer not null references page on delete cascade,
      variant text not null,
      repeat integer not null,
      failure text,
      requests integer,
      transfer_bytes bigint,
      decoded_bytes bigint,
      server_ms double precision,
      queries integer,
      query_ms double precision,
      load_ms double precision,
      detail bytea,
      read_at timestamptz not null default now(),
      unique (sweep_id, page_id, variant, repeat)
    );
    create table toll (
      sweep_id integer not null references sweep on delete cascade,
      page_id integer not null references page on delete cascade,
      variant text not null,
      payer text not null,
      requests integer not null,
      transfer_bytes bigint not null,
      decoded_bytes bigint not null,
      server_ms double precision not null,
      queries integer not null,
      query_ms double precision not null,
      primary key (sweep_id, variant, page_id, payer)
    );
    create table draft (
      id uuid primary key,
      site_id integer not null references site on delete cascade,
      rule jsonb not null,
      created_at timestamptz not null default now()
    );
    create index on draft (site_id);
    create table rule_version (
      site_id integer not null references site on delete cascade,
      version integer not null,
      rules jsonb not null,
      what text not null,
      put_at timestamptz not null default now(),
      primary key (site_id, version)
    );
    create table proof (
      id integer generated always as identity primary key,
      site_id integer not null references site on delete cascade,
      sweep_id integer not null references sweep on delete cascade,
      title text not null,
      from_version integer not null,
      to_version integer not null,
      created_at timestamptz not null default now()
    );
  `)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(
    'drop table proof, rule_version, draft, toll, reading, sweep_page, sweep, lens, add_on, page, site cascade',
  )
}
