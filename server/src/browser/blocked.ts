import type { CDPSession } from 'playwright-core'

/** What a reading is kept from asking for: some hosts, or all but the site's own. */
export type Blocked = { hosts: string[] } | { allBut: string[] }

/** Has the browser refuse requests to hosts. What is refused counts as a failed request without bytes. */
export async function blockHosts(session: CDPSession, blocked: Blocked): Promise<void> {
  const pattern = (host: string) => {
    const { hostname, port } = new URL(`http://${host}`)
    return `*://${hostname}:${port || '*'}/*`
  }
  // The first pattern that fits decides.
  const urlPatterns =
    'hosts' in blocked
      ? blocked.hosts.map((host) => ({ urlPattern: pattern(host), block: true }))
      : [
          ...blocked.allBut.map((host) => ({ urlPattern: pattern(host), block: false })),
          { urlPattern: '*://*:*/*', block: true },
        ]
  await session.send('Network.setBlockedURLs', { urlPatterns })
}

/** Whether a request was refused that way. */
export const wasBlocked = ({ failure }: { failure?: string }): boolean => failure === 'inspector'
