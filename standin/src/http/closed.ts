import type { IncomingMessage, ServerResponse } from 'node:http'
import { sendProblem } from './answer.js'

/** Whether a request has the name and password of a site that is closed to the public; one that is open lets everybody in. */
export const letsIn = ({ headers }: IncomingMessage, closedTo: string | undefined): boolean =>
  closedTo === undefined || headers.authorization === `Basic ${Buffer.from(closedTo, 'utf8').toString('base64')}`

export function sendClosed(response: ServerResponse): void {
  response.setHeader('www-authenticate', 'Basic realm="A copy", charset="UTF-8"')
  sendProblem(response, 401, 'This copy is closed to the public.')
}
