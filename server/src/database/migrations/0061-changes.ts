import type { Sequelize } from 'sequelize'

/** What answers are made of. Not what is worked out of it again, nor what only the machinery itself keeps. */
const WATCHED = `
  accepted_difference add_on cause_search culprit_search deployment dismissal draft expiry_drafted file_toll file_use gentle_search
  inline_seen instance lens page page_answer page_set paper pattern picture prediction_groups proof put_off question reading
  reading_on_demand rehearsal rehearsal_page rehearsal_picture retirement rule_version share_finding site site_restore sweep
  sweep_page tidying toll touch use_fact verdict weigh_in weight_promise`.split(/\s+/).filter(Boolean) // prettier-ignore

/**
 * Every table tells, with the commit, of which sites something was written. A table that comes later is told of with
 * `select watch_changes('its_name')`.
 */
export async function up(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    create function tell_change() returns trigger language plpgsql as $$
    declare
      site integer;
    begin
      if tg_argv[0] = 'id' then
        for site in select distinct id from changed loop perform pg_notify('unvelt_changes', site::text); end loop;
      elsif tg_argv[0] = 'site_id' then
        for site in select distinct site_id from changed loop perform pg_notify('unvelt_changes', site::text); end loop;
      elsif tg_argv[0] = 'sweep_id' then
        for site in select distinct sweep.site_id from (select distinct sweep_id from changed) told join sweep on sweep.id = told.sweep_id
        loop perform pg_notify('unvelt_changes', site::text); end loop;
      elsif tg_argv[0] = 'rehearsal_id' then
        for site in select distinct rehearsal.site_id from (select distinct rehearsal_id from changed) told
          join rehearsal on rehearsal.id = told.rehearsal_id
        loop perform pg_notify('unvelt_changes', site::text); end loop;
      else
        perform pg_notify('unvelt_changes', '*');
      end if;
      return null;
    end $$;

    create function watch_changes(watched text) returns void language plpgsql as $$
    declare
      by_column text;
      happens text;
    begin
      select coalesce(
        case when watched = 'site' then 'id' end,
        (select column_name from information_schema.columns
          where table_schema = current_schema and table_name = watched and column_name in ('site_id', 'sweep_id', 'rehearsal_id')
          order by array_position(array['site_id', 'sweep_id', 'rehearsal_id'], column_name::text) limit 1),
        '*') into by_column;
      foreach happens in array array['insert', 'update', 'delete'] loop
        execute format('create trigger tell_%s after %s on %I referencing %s table as changed for each statement execute function tell_change(%L)',
          happens, happens, watched, case happens when 'delete' then 'old' else 'new' end, by_column);
      end loop;
    end $$;

    ${WATCHED.map((table) => `select watch_changes('${table}');`).join('\n')}`)
}

export async function down(sequelize: Sequelize): Promise<void> {
  await sequelize.query(`
    ${WATCHED.flatMap((table) =>
      ['insert', 'update', 'delete'].map((happens) => `drop trigger tell_${happens} on ${table};`),
    ).join('\n')}
    drop function watch_changes(text);
    drop function tell_change();`)
}
