import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads'

/** A server that sends bytes from memory and does nothing else, in a thread of its own. */
export async function bareServer(bodies: ReadonlyMap<string, Buffer>): Promise<{ address: string; stop(): void }> {
  const worker = new Worker(new URL(import.meta.url), { workerData: bodies })
  const port = await new Promise<number>((resolve, reject) => {
    worker.once('message', resolve)
    worker.once('error', reject)
  })
  return { address: `http://127.0.0.1:${port}`, stop: () => void worker.terminate() }
}

if (!isMainThread) {
  const bodies = workerData as ReadonlyMap<string, Uint8Array>
  const server = createServer((request, response) => response.end(bodies.get(request.url!)))
  server.listen(0, '127.0.0.1', () => parentPort!.postMessage((server.address() as AddressInfo).port))
}
