import { QueryTypes, type Sequelize } from 'sequelize'
import type { SweepRow } from '../sweep/sweep.model.js'
import { Once } from './once.js'

/** While a sweep goes on, what was worked out of it holds for so long. */
const FRESH_WHILE_RUNNING_S = 20

const once = new Once()

/**
 * Something that is worked out of a sweep's readings once and kept, until the sweep has other readings, or they are charged
 * otherwise.
 * @param also What else it depends on.
 */
export async function keptView<T extends object>(
  sequelize: Sequelize,
  sweep: SweepRow,
  view: string,
  make: () => Promise<T>,
  also = '',
): Promise<T> {
  return once.run(`${sweep.id} ${view} ${also}`, async () => {
    const [state] = await sequelize.query<{ basis: string; kept: string | null; body: T | null; fresh: boolean }>(
      STATE,
      {
        replacements: { sweep: sweep.id, view, also, fresh: `${FRESH_WHILE_RUNNING_S} seconds` },
        type: QueryTypes.SELECT,
      },
    )
    const { basis, kept, body, fresh } = state!
    if (body && (kept === basis || (fresh && sweep.status === 'running'))) return body
    const made = await make()
    await sequelize.query(
      `insert into kept_view (sweep_id, view, basis, body) values (:sweep, :view, :basis, :body)
       on conflict (sweep_id, view) do update set basis = excluded.basis, body = excluded.body, made_at = now()`,
      { replacements: { sweep: sweep.id, view, basis, body: JSON.stringify(made) } },
    )
    return made
  })
}

const STATE = `
  select state.basis, kept_view.basis kept, body, coalesce(made_at > now() - interval :fresh, false) fresh from (
    select concat_ws('/', (select concat_ws(' ', count(*), max(id)) from reading where sweep_id = :sweep),
      (select concat_ws(' ', md5(sources::text), recomputing) from sweep where id = :sweep), md5(:also)) basis) state
  left join kept_view on sweep_id = :sweep and view = :view`
