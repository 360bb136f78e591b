import { request } from 'node:http'

/** Asks a site of this machine by its own name, which Node neither resolves nor lets `fetch` give as `Host`. */
export function askSite(
  address: string,
  path: string,
  { method = 'GET', headers = {}, body }: { method?: string; headers?: Record<string, string>; body?: object } = {},
): Promise<{ status: number; text: string }> {
  const { host, port } = new URL(address)
  return new Promise((resolve, reject) => {
    const asked = request(
      {
        host: '127.0.0.1',
        port,
        path,
        method,
        headers: { host, ...(body && { 'content-type': 'application/json' }), ...headers },
      },
      (response) => {
        const chunks: Buffer[] = []
        response.on('data', (chunk: Buffer) => chunks.push(chunk))
        response.on('end', () => resolve({ status: response.statusCode!, text: Buffer.concat(chunks).toString() }))
      },
    )
    asked.once('error', reject)
    asked.end(body && JSON.stringify(body))
  })
}
