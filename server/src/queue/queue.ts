import PgBoss from 'pg-boss'

export const READ_PAGE = 'read-page'

/** One page under one lens, with all its repeats and variants. */
export interface ReadPageJob {
  sweepId: number
  pageId: number
}

/** Works the tolls of a sweep out anew. */
export const RECOMPUTE = 'recompute'
export interface RecomputeJob {
  sweepId: number
}

/** Asks for one page many times without a browser. */
export const SERVER_READING = 'server-reading'
export interface ServerReadingJob {
  id: number
}

/** Reads a page with and without some outsiders. */
export const WITHOUT = 'without'
export interface WithoutJob {
  id: number
}

/** Tries what visitors and editors do on a site. */
export const ACTIONS = 'actions'
export interface ActionsJob {
  id: number
}

/** Where jobs come that failed, or whose worker died, as often as they may be begun again. */
export const GIVEN_UP = {
  [RECOMPUTE]: 'recompute-given-up',
  [SERVER_READING]: 'server-reading-given-up',
  [WITHOUT]: 'without-given-up',
  [ACTIONS]: 'actions-given-up',
}

/** How long a job may go without a word before another worker takes it: the longest page, times its repeats. */
const EXPIRES_SECONDS = 600

/** Opens the work queue, in the same database as everything else. */
export async function openQueue(databaseUrl: string): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: databaseUrl, max: 4, application_name: 'unvelt-queue' })
  boss.on('error', (error) => console.error(`queue: ${error.message}`))
  await boss.start()
  await boss.createQueue(READ_PAGE, {
    name: READ_PAGE,
    retryLimit: 3,
    retryDelay: 1,
    expireInSeconds: EXPIRES_SECONDS,
  })
  for (const [name, deadLetter] of Object.entries(GIVEN_UP)) {
    await boss.createQueue(deadLetter)
    const options = { name, retryLimit: 2, retryDelay: 1, expireInSeconds: EXPIRES_SECONDS, deadLetter }
    await boss.createQueue(name, options)
    // A queue of an earlier version stays as it was made.
    await boss.updateQueue(name, options)
  }
  return boss
}
