import { ConnectorError } from '../../site-http/connector-client.js'

const FIRST_PAUSE_MS = 500
const LONGEST_PAUSE_MS = 15_000

/**
 * Does something with a site that may be away for a while, again with growing pauses. What the site refuses is not asked again.
 * @throws ConnectorError once it has been away for too long.
 */
export async function patiently(
  ask: () => Promise<void>,
  { seconds, onWait }: { seconds: number; onWait: (why: string) => Promise<void> },
): Promise<void> {
  const until = performance.now() + seconds * 1000
  for (let pause = FIRST_PAUSE_MS, said = false; ; pause = Math.min(2 * pause, LONGEST_PAUSE_MS)) {
    try {
      return await ask()
    } catch (error) {
      const isAway = error instanceof ConnectorError && error.fault === 'address'
      if (!isAway || performance.now() + pause > until) throw error
      if (!said) await onWait(error.message)
      said = true
    }
    await new Promise((resolve) => setTimeout(resolve, pause))
  }
}
