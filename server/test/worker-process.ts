import { spawn, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { fileURLToPath } from 'node:url'
import type { appForTest } from './app-for-test.js'

const WORKER = fileURLToPath(new URL('../dist/worker/worker.js', import.meta.url))

/** What tests look at in a sweep. */
export interface SweepNow {
  id: number
  status: string
  why: string | null
  readings: number
  readingsFailed: number
  pagesDone: number
  pagesFailed: number
  atPages: string[]
}

type App = Awaited<ReturnType<typeof appForTest>>

/** Real worker processes beside a server for tests, ended with it. */
export class WorkerProcesses {
  readonly all: ChildProcess[] = []

  constructor(private readonly env: Record<string, string> = {}) {}

  async start(): Promise<ChildProcess> {
    const worker = spawn(process.execPath, [WORKER], { env: { ...process.env, NODE_OPTIONS: '', ...this.env } })
    this.all.push(worker)
    let said = ''
    const ready = new Promise<void>((resolve, reject) => {
      worker.stdout!.on('data', (chunk: Buffer) => {
        said += chunk.toString()
        if (said.includes('worker ready')) resolve()
      })
      worker.once('exit', () => reject(new Error(`the worker ended: ${said}`)))
    })
    await ready
    return worker
  }

  async stop(): Promise<void> {
    const alive = this.all.filter(({ exitCode, signalCode }) => exitCode === null && signalCode === null)
    for (const worker of alive) worker.kill('SIGTERM')
    await Promise.all(alive.map((worker) => once(worker, 'exit')))
  }
}

/** Asks for a sweep until it is as wanted. */
export async function sweepUntil(t: App, id: number, wanted: (sweep: SweepNow) => boolean): Promise<SweepNow> {
  for (;;) {
    const { status, body } = await t.call('GET', `/sweeps/${id}`).catch(() => ({ status: 0, body: null }))
    if (status === 200 && wanted(body as SweepNow)) return body as SweepNow
    await new Promise((resolve) => setTimeout(resolve, 200))
  }
}
