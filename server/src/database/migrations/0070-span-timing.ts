import type { Sequelize } from 'sequelize'

/** What the spans of a reading's request tell of the server, where its page told nothing; and whether some came that were not looked at. */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    alter table reading
      add column trace_id text,
      add column span_timing jsonb,
      add column spans_wait boolean not null default false;
    create index reading_trace_id on reading (trace_id) where trace_id is not null;
    create index reading_spans_wait on reading (sweep_id, page_id) where spans_wait`)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query('alter table reading drop column trace_id, drop column span_timing, drop column spans_wait')
}
