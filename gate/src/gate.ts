import { Agent as HttpAgent, createServer, type IncomingMessage, type Server } from 'node:http'
import { Agent as HttpsAgent } from 'node:https'
import { isSite, type Open } from './gate-site.js'
import { VIA } from './headers.js'
import { passOn } from './pass-on.js'
import { passUpgrade } from './upgrade.js'
import { say } from './say.js'

/** More connections than that are turned away, so that nobody can take all of the machine's. */
const MOST_CONNECTIONS = 1_000
const MOST_TO_A_SITE = 256

/**
 * A reverse proxy that applies rules to a site's pages by core's rewriter. It stands for several sites, each under a host name of
 * its own, and keeps nothing of what goes through it.
 * @param open Whose a host name is.
 */
export function createGate(open: Open): Server {
  const agents = {
    http: new HttpAgent({ keepAlive: true, maxSockets: MOST_TO_A_SITE }),
    https: new HttpsAgent({ keepAlive: true, maxSockets: MOST_TO_A_SITE }),
  }
  const server = createServer({ keepAliveTimeout: 5_000, requestTimeout: 0 }, (request, response) => {
    if (!request.url?.startsWith('/') || request.url.startsWith('//'))
      return say(response, 400, 'There is no such address', 'A path on this host was expected.')
    if (isLoop(request))
      return say(response, 508, 'The site leads back to here', 'Its address is one of this gate’s own.')
    open(request.headers.host ?? '').then(
      (found) => {
        if ('answer' in found) return found.answer(request, response)
        if (!isSite(found)) return say(response, found.status, 'There is nothing here', found.why)
        passOn(found, gateOf(request), agents, request, response)
      },
      () => say(response, 500, 'Something went wrong', 'The gate could not find out what is to be shown here.'),
    )
  })
  server.maxConnections = MOST_CONNECTIONS
  server.on('upgrade', (request, socket, head) => {
    const refuse = (): void => void socket.end('HTTP/1.1 404 Not Found\r\nconnection: close\r\n\r\n')
    socket.on('error', () => socket.destroy())
    if (!request.url?.startsWith('/') || isLoop(request)) return refuse()
    open(request.headers.host ?? '')
      .then(async (found) => {
        if (isSite(found)) await passUpgrade(found, gateOf(request), request, socket, head)
        else refuse()
      })
      .catch(refuse)
  })
  server.on('close', () => {
    agents.http.destroy()
    agents.https.destroy()
  })
  return server
}

const gateOf = (request: IncomingMessage) => `http://${request.headers.host}`

const isLoop = ({ headers }: IncomingMessage) => String(headers.via ?? '').includes(VIA)
