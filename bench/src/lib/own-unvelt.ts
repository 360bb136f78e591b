import { spawn, type ChildProcess } from 'node:child_process'
import { fileURLToPath } from 'node:url'

const api = `http://127.0.0.1:${process.env.UNVELT_PORT!}/api`

/** One of Unvelt's programs, on the benchmark's own database. */
export const start = (script: string): ChildProcess =>
  spawn(process.execPath, [fileURLToPath(new URL(`../../../server/dist/${script}`, import.meta.url))], {
    env: { ...process.env, UNVELT_LOG: 'warn' },
    stdio: ['ignore', 'ignore', 'inherit'],
  })

export async function call<T>(method: string, path: string, body?: object): Promise<T> {
  const response = await fetch(api + path, {
    method,
    headers: { 'content-type': 'application/json' },
    ...(body && { body: JSON.stringify(body) }),
  })
  if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`)
  return (await response.json()) as T
}

export const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))

/** Sweeps pages to the end. @returns the sweep, and how long it took, ms. @throws where a reading failed. */
export async function sweepToEnd(site: number, request: object): Promise<{ id: number; ms: number }> {
  const from = performance.now()
  const { id } = await call<{ id: number }>('POST', `/sites/${site}/sweeps`, request)
  return { id, ms: await untilDone(id, from) }
}

/** @returns how long after `from` the sweep was over, ms. @throws where a reading failed. */
export async function untilDone(id: number, from: number): Promise<number> {
  for (;;) {
    const now = await call<{ status: string; readingsFailed: number; failures: object[] }>('GET', `/sweeps/${id}`)
    if (now.status === 'done') {
      if (now.readingsFailed > 0)
        throw new Error(`${now.readingsFailed} readings failed: ${JSON.stringify(now.failures)}`)
      return performance.now() - from
    }
    await pause(100)
  }
}
