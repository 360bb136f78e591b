import PgBoss from 'pg-boss'
import type { Transaction } from 'sequelize'
import { log } from '../log/log.js'

/** One page under one lens, with all its repeats and variants. */
export const READ_PAGE = 'read-page'
export interface ReadPageJob {
  sweepId: number
  pageId: number
}

/** Works the tolls of a sweep out anew. */
export const RECOMPUTE = 'recompute'
export interface RecomputeJob {
  sweepId: number
}

/** Publishes a page anew for which spans came after it was worked out. */
export const TAKE_SPANS = 'take-spans'
export interface TakeSpansJob {
  sweepId: number
  pageId: number
}

/** A page or a site read because somebody asked for just that. */
export const READ_ON_DEMAND = 'read-on-demand'
export interface ReadOnDemandJob {
  id: number
}

/** Carries a change of the live rules to its end. */
export const DEPLOY = 'deploy'
export interface DeployJob {
  id: number
}

/** Puts drafts live that were put off until now. */
export const PUT_OFF = 'put-off'
export interface PutOffJob {
  id: number
}

/** Tries drafts on the real pages. */
export const REHEARSE = 'rehearse'
export interface RehearseJob {
  id: number
}

/** Finds the drafts that break what a guard has found. */
export const FIND_CULPRIT = 'find-culprit'
export interface FindCulpritJob {
  id: number
}

/** Finds an effect that works in the place of one that broke something. */
export const FIND_GENTLEST = 'find-gentlest'
export interface FindGentlestJob {
  id: number
}

/** Finds what a page complains for. */
export const FIND_CAUSE = 'find-cause'
export interface FindCauseJob {
  id: number
}

/** Does one thing at the site that a retirement asks for. */
export const RETIRE = 'retire'
export interface RetireJob {
  id: number
}

/** Puts back what a snapshot of a site holds. */
export const RESTORE = 'restore'
export interface RestoreJob {
  id: number
}

/** Tidies up at a site. */
export const TIDY = 'tidy'
export interface TidyJob {
  id: number
}

/** Prints a document. */
export const PRINT = 'print'
export interface PrintJob {
  id: number
}

const QUEUES = [
  PRINT,
  READ_PAGE,
  RECOMPUTE,
  TAKE_SPANS,
  READ_ON_DEMAND,
  DEPLOY,
  PUT_OFF,
  REHEARSE,
  FIND_CULPRIT,
  FIND_GENTLEST,
  FIND_CAUSE,
  RETIRE,
  RESTORE,
  TIDY,
]

/**
 * The queue only wakes workers up: what is to be done stands in the tables, and a job that got lost is queued again from there
 * (run-jobs.ts). So nothing is retried by the queue itself, and a job is taken for dead only where its lock has gone.
 */
const OPTIONS = { retryLimit: 0, expireInSeconds: 20 * 3600 } as const

/** Opens the work queue, in the same database as everything else. */
export async function openQueue(databaseUrl: string): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: databaseUrl, max: 4, application_name: 'unvelt-queue' })
  boss.on('error', (error) => log.warn({ part: 'queue' }, error.message))
  await boss.start()
  for (const name of QUEUES) {
    await boss.createQueue(name, { name, ...OPTIONS })
    // A queue of an earlier version stays as it was made.
    await boss.updateQueue(name, { name, ...OPTIONS })
  }
  return boss
}

/** Options with which jobs are queued in a transaction: they are there when the state that wants them is, and not before. */
export function within(transaction: Transaction): { db: PgBoss.Db } {
  const { connection } = transaction as unknown as {
    connection: { query(text: string, values: unknown[]): Promise<{ rows: unknown[] }> }
  }
  return { db: { executeSql: (text, values) => connection.query(text, values) as never } }
}
