import { QueryTypes, type Sequelize } from 'sequelize'

/** How far a sweep is. */
export interface Counts {
  pages: number
  pagesDone: number
  pagesBegun: number
  pagesFailed: number
  readings: number
  readingsFailed: number
  atPages: string[]
}

const COUNTS = `
  select
    (select count(*)::int from sweep_page where sweep_id = :sweep) pages,
    (select count(*)::int from sweep_page where sweep_id = :sweep and state in ('done', 'failed')) "pagesDone",
    (select count(*)::int from sweep_page where sweep_id = :sweep and state = 'begun') "pagesBegun",
    (select count(*)::int from sweep_page where sweep_id = :sweep and state = 'failed') "pagesFailed",
    (select count(*)::int from reading where sweep_id = :sweep) readings,
    (select count(*)::int from reading where sweep_id = :sweep and failure is not null) "readingsFailed",
    array(select path from sweep_page join page on page.id = page_id where sweep_id = :sweep and state = 'reading'
      order by position limit 20) "atPages"`

export async function countsOf(sequelize: Sequelize, sweepId: number): Promise<Counts> {
  const [counts] = await sequelize.query<Counts>(COUNTS, { replacements: { sweep: sweepId }, type: QueryTypes.SELECT })
  return counts!
}
