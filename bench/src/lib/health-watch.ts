import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads'

const PAUSE_MS = 20

/** Asks for one address again and again, in a thread of its own: who asks for much else is too busy himself to time it. Times in ms. */
export function watchFrom(url: string): { end(): Promise<number[]> } {
  const worker = new Worker(new URL(import.meta.url), { workerData: url })
  const ended = new Promise<number[]>((resolve, reject) => {
    worker.once('message', resolve)
    worker.once('error', reject)
  })
  return {
    end: () => {
      worker.postMessage('end')
      return ended
    },
  }
}

if (!isMainThread) {
  const times: number[] = []
  let goesOn = true
  parentPort!.once('message', () => (goesOn = false))
  while (goesOn) {
    const began = performance.now()
    await (await fetch(workerData as string)).arrayBuffer()
    times.push(performance.now() - began)
    await new Promise((resolve) => setTimeout(resolve, PAUSE_MS))
  }
  parentPort!.postMessage(times)
}
