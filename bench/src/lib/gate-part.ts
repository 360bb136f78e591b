import { createServer, request as httpRequest, Agent, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { NO_SOURCES, planRewrite } from '@unvelt/core'
import { createGate } from '@unvelt/gate'

/** The site, a proxy that does nothing else, or the gate: each a process of its own. Says its port, and its memory when asked. */
const [part, origin] = process.argv.slice(2)

const page = (() => {
  const paragraph =
    '<p class="lead">Sixty hectares of <a href="/trees/oak">oak</a> and elm, a short walk from the river.</p>\n'
  const head = '<!doctype html><html><head><title>Trees</title><script src="/parts/slider/slider.js"></script><link rel="stylesheet" href="/look/site.css"></head><body>' // prettier-ignore
  return Buffer.from(head + paragraph.repeat(Math.ceil((100_000 - head.length) / paragraph.length)) + '</body></html>')
})()

const site = () =>
  createServer((request, response) => {
    response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' })
    response.end(request.method === 'HEAD' ? undefined : page)
  })

function plainProxy(): Server {
  const agent = new Agent({ keepAlive: true, maxSockets: 256 })
  const { hostname, port } = new URL(origin!)
  return createServer((request, response) => {
    const outgoing = httpRequest(
      { hostname, port, path: request.url!, method: request.method, headers: request.headers, agent },
      (answer) => {
        response.writeHead(answer.statusCode!, answer.rawHeaders)
        answer.pipe(response)
      },
    )
    outgoing.on('error', () => response.destroy())
    request.pipe(outgoing)
  })
}

function gate(): Server {
  const slider = 'own:/parts/slider/'
  const found = {
    origin: origin!,
    framedBy: null,
    isSafe: true,
    headers: async () => ({}),
    plan: async (url: URL) =>
      planRewrite({
        effects: [{ addon: slider, effect: 'leave-out', rules: [], conflictsWith: [] }],
        sources: {
          ...NO_SOURCES,
          ownHosts: [new URL(origin!).host],
          prefixes: [{ prefix: '/parts/slider/', addon: slider }],
        },
        pageUrl: url.href,
      }),
  }
  return createGate(async () => found)
}

const server = part === 'site' ? site() : part === 'proxy' ? plainProxy() : gate()
server.listen(0, '127.0.0.1', () => process.send!({ port: (server.address() as AddressInfo).port }))
process.on('message', () => {
  global.gc?.()
  process.send!({ rss: process.memoryUsage.rss() })
})
process.on('disconnect', () => process.exit(0))
