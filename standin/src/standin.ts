import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { ADD_ONS, OFFERED } from './add-ons/index.js'
import { Database } from './cms/database.js'
import { DELIVERY_HOST, Fernhollow } from './cms/fernhollow.js'
import { SpanSender, type SpanTarget } from './cms/spans.js'
import { RuleStore } from './cms/rule-store.js'
import { Connector } from './connector/connector.js'
import { AccessLog } from './http/access-log.js'
import { letsIn, sendClosed } from './http/closed.js'
import { sendProblem, type Handler } from './http/answer.js'
import { OUTSIDERS } from './outsiders/index.js'

export const SITE_HOST = 'fernhollow.localhost'

export interface StandinOptions {
  /** 0 picks a free port. */
  port: number
  databaseUrl: string
  connectorKey: string
  accessLogFile?: string
  /** Where the spans of measured requests are sent; nowhere without. */
  spans?: SpanTarget
  /** `NAME:PASSWORD` without which the site's own pages are closed, as those of a copy are (HTTP Basic). */
  closedTo?: string
}

export interface Standin {
  /** `http://fernhollow.localhost:PORT` */
  address: string
  port: number
  /** Does the work that is due outside any page load, which is else looked for every half minute. */
  runTasks(): Promise<void>
  stop(): Promise<void>
}

/** Starts the arboretum's site and its outsiders, all on one loopback port, told apart by host name. */
export async function startStandin(options: StandinOptions): Promise<Standin> {
  const database = await Database.open(options.databaseUrl)
  const rules = new RuleStore(database)
  await rules.setUp()
  const spans = options.spans ? new SpanSender(options.spans) : null
  const site = new Fernhollow([...ADD_ONS, ...OFFERED], database, rules, options.connectorKey, spans)
  await site.setUp()
  const connector = new Connector(site, rules, options.connectorKey, spans !== null)
  const log = new AccessLog(options.accessLogFile)
  const own: Handler = (request, response, address) =>
    !letsIn(request, options.closedTo)
      ? sendClosed(response)
      : connector.owns(address.pathname)
        ? connector.handle(request, response, address)
        : site.handle(request, response, address)
  const server = createServer((request, response) => {
    const host = request.headers.host ?? ''
    const name = host.replace(/:\d+$/, '').toLowerCase()
    log.watch(request, response, name === SITE_HOST ? (line) => site.log(line) : undefined)
    const handler = { [SITE_HOST]: own, [DELIVERY_HOST]: site.deliver, ...OUTSIDERS }[name]
    const target = `http://${host}${request.url}`
    if (!handler || !URL.canParse(target)) return sendProblem(response, 421, `Nobody here is called ${host}.`)
    Promise.resolve(handler(request, response, new URL(target))).catch((error: Error) => {
      console.error(`stand-in: ${request.method} ${host}${request.url}: ${error.stack}`)
      if (response.headersSent) response.destroy()
      else sendProblem(response, 500, 'The site has stumbled.')
    })
  })
  const port = await listen(server, options.port)
  const address = `http://${SITE_HOST}:${port}`
  site.scheduler.start(address)
  return {
    address,
    port,
    runTasks: () => site.scheduler.runDue(address),
    async stop() {
      await new Promise<void>((resolve) => {
        server.close(() => resolve())
        server.closeAllConnections()
      })
      await spans?.stop()
      await site.scheduler.stop()
      await database.close()
      await log.close()
    },
  }
}

function listen(server: Server, port: number): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, '127.0.0.1', () => resolve((server.address() as AddressInfo).port))
  })
}
