import { createServer, get } from 'node:http'
import type { AddressInfo } from 'node:net'
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads'

/** What comes for an address, byte by byte as it goes over the line. */
export interface Sent {
  bytes: Uint8Array
  encoding: string | undefined
}

/** Asks as the clients ask, and leaves packed what is packed. */
export const sentFor = (url: string) =>
  new Promise<Sent>((resolve, reject) => {
    get(url, { headers: { 'accept-encoding': 'br, gzip, deflate' } }, async (response) => {
      const parts: Buffer[] = []
      for await (const part of response) parts.push(part as Buffer)
      resolve({ bytes: Buffer.concat(parts), encoding: response.headers['content-encoding'] })
    }).on('error', reject)
  })

/** A server that sends bytes from memory and does nothing else, in a thread of its own. */
export async function bareServer(bodies: ReadonlyMap<string, Sent>): Promise<{ address: string; stop(): void }> {
  const worker = new Worker(new URL(import.meta.url), { workerData: bodies })
  const port = await new Promise<number>((resolve, reject) => {
    worker.once('message', resolve)
    worker.once('error', reject)
  })
  return { address: `http://127.0.0.1:${port}`, stop: () => void worker.terminate() }
}

if (!isMainThread) {
  const bodies = workerData as ReadonlyMap<string, Sent>
  const server = createServer((request, response) => {
    const { bytes, encoding } = bodies.get(request.url!)!
    response.writeHead(200, { 'content-length': bytes.length, ...(encoding && { 'content-encoding': encoding }) })
    response.end(bytes)
  })
  server.listen(0, '127.0.0.1', () => parentPort!.postMessage((server.address() as AddressInfo).port))
}
