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
  await boss.createQueue(RECOMPUTE, { name: RECOMPUTE, retryLimit: 3, retryDelay: 1, expireInSeconds: EXPIRES_SECONDS })
  await boss.createQueue(SERVER_READING, {
    name: SERVER_READING,
    retryLimit: 2,
    retryDelay: 1,
    expireInSeconds: EXPIRES_SECONDS,
  })
  await boss.createQueue(WITHOUT, { name: WITHOUT, retryLimit: 2, retryDelay: 1, expireInSeconds: EXPIRES_SECONDS })
  return boss
}
