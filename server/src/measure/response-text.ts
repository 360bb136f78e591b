import type { CDPSession } from 'playwright-core'

/** The body of an answer as text, or null where the browser has thrown it away already. */
export async function responseText(session: CDPSession, requestId: string): Promise<string | null> {
  try {
    const { body, base64Encoded } = await session.send('Network.getResponseBody', { requestId })
    return base64Encoded ? Buffer.from(body, 'base64').toString('utf8') : body
  } catch {
    return null
  }
}
