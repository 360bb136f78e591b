import { bulkScript } from '../files/bulk-code.js'
import { shippedFile, shippedWith } from '../files/shipped.js'
import { send, sendFile, sendProblem, type Handler } from '../http/answer.js'

const METER = shippedFile('outsiders/meter.js')
const BEACON = shippedWith('outsiders/beacon.js', bulkScript('heronmark-beacon', 24_000))
const SYNC = shippedWith('outsiders/sync.js', bulkScript('petalgrid-sync', 18_000))
const DOT = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64')

/** The counter's front door: sends visitors on, and counts hits. */
export const heronmarkCount: Handler = (request, response, address) => {
  if (address.pathname === '/m.js')
    return send(response, 302, {
      location: `http://cdn.heronmark.localhost${address.port ? `:${address.port}` : ''}/meter-3.js`,
      'cache-control': 'no-store',
    })
  if (address.pathname === '/hit.gif')
    return send(response, 200, { 'content-type': 'image/gif', 'cache-control': 'no-store' }, DOT)
  sendProblem(response, 404, 'Nothing here.')
}

/** Where the counter's scripts really are. */
export const heronmarkCdn: Handler = (request, response, address) => {
  const file = { '/meter-3.js': METER, '/beacon.js': BEACON }[address.pathname]
  return file ? sendFile(request, response, address.pathname, file) : sendProblem(response, 404, 'Nothing here.')
}

/** The partner that the counter brings along. */
export const petalgridSync: Handler = (request, response, address) =>
  address.pathname === '/sync.js'
    ? sendFile(request, response, address.pathname, SYNC)
    : sendProblem(response, 404, 'Nothing here.')
