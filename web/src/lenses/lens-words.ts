import type { Lens } from '@unvelt/contract'
import { withUnit } from '../figures/format.js'

const tenths = new Intl.NumberFormat('en', { maximumFractionDigits: 1 })

/** A rate in the unit that it is spoken of in. */
const rateWords = (kbps: number) =>
  kbps < 1000 ? withUnit(kbps, 'kbit/s') : withUnit(tenths.format(kbps / 1000), 'Mbit/s')

const CONSENT_WORDS = { agreed: 'has agreed to be followed', refused: 'has refused to be followed' }

/** What a lens is, in one line of figures. */
export function lensWords({
  device,
  network,
  visitor,
  role,
  cache,
  consent,
}: Pick<Lens, 'device' | 'network' | 'visitor' | 'role' | 'cache' | 'consent'>): string {
  return [
    `${device.phone ? 'phone' : 'desk'} ${device.viewportWidth} × ${device.viewportHeight}`,
    device.cpuSlowdown > 1 ? `processor slowed ${device.cpuSlowdown} times` : null,
    network ? `${withUnit(network.latencyMs, 'ms')} and ${rateWords(network.downKbps)}` : 'network as it is',
    visitor === 'signed-out' ? null : `signed in${role ? ` as ${role}` : ''}`,
    consent ? CONSENT_WORDS[consent.answer] : null,
    cache === 'warm' ? 'second view' : null,
  ]
    .filter(Boolean)
    .join(', ')
}
