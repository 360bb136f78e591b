import type { CDPSession, Page } from 'playwright-core'

/** What Playwright keeps behind a page, as far as we reach into it. */
interface BehindPage {
  _connection?: { toImpl?(of: unknown): { delegate?: { _mainFrameSession?: { _client?: CDPSession } } } | undefined }
}

/**
 * The protocol session that Playwright itself has with a page. With a second one the browser tells each of its events
 * twice, which costs a page 6 % of its load (`npm run bench -- reading`). It is no part of Playwright's interface: null
 * where it is not found, as after an upgrade.
 */
export function sharedSession(page: Page): CDPSession | null {
  const session = (page as Page & BehindPage)._connection?.toImpl?.(page)?.delegate?._mainFrameSession?._client
  return typeof session?.send === 'function' && typeof session.on === 'function' ? session : null
}

/** A session to follow a page by. */
export async function pageSession(page: Page): Promise<CDPSession> {
  return sharedSession(page) ?? (await page.context().newCDPSession(page))
}
