import { createServer, request } from 'node:http'
import type { AddressInfo } from 'node:net'

export interface SiteProxy {
  address: string
  stop(): Promise<void>
}

interface Ways {
  /** Hands out every page as one that was made by the rules of that version, whatever is purged behind it. */
  stale?: number
  /** Listens there once more, after it was stopped. */
  port?: number
}

/** A proxy before a site. The connector's calls pass as they are. */
export async function siteProxy(site: string, { stale, port: ownPort = 0 }: Ways = {}): Promise<SiteProxy> {
  const { host, port, hostname } = new URL(site)
  const server = createServer((asked, answer) => {
    const onward = request(
      { host: '127.0.0.1', port, path: asked.url, method: asked.method, headers: { ...asked.headers, host } },
      (came) => {
        const isCall = asked.url!.startsWith('/unvelt/')
        answer.writeHead(came.statusCode!, {
          ...came.headers,
          ...(!isCall && stale !== undefined && { 'unvelt-rules': String(stale) }),
        })
        came.pipe(answer)
      },
    )
    onward.on('error', () => answer.destroy())
    asked.pipe(onward)
  })
  await new Promise<void>((resolve) => server.listen(ownPort, '127.0.0.1', resolve))
  return {
    address: `http://${hostname}:${(server.address() as AddressInfo).port}`,
    async stop() {
      server.closeAllConnections()
      await new Promise((resolve) => server.close(resolve))
    },
  }
}
