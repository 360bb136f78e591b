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

/** A frame's own HTML as the browser keeps it for itself. Null where it has gone. */
export async function documentText(session: CDPSession, frameId: string, url: string): Promise<string | null> {
  try {
    // Playwright has it on in its own session, and relies on it: it stays on.
    await session.send('Page.enable')
    const { content, base64Encoded } = await session.send('Page.getResourceContent', { frameId, url })
    return base64Encoded ? Buffer.from(content, 'base64').toString('utf8') : content
  } catch {
    return null
  }
}
