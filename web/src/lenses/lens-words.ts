import type { Lens } from '@unvelt/contract'
import { count } from '../figures/format.js'

/** What a lens is, in one line of figures. */
export function lensWords({
  device,
  network,
  visitor,
  role,
  cache,
}: Pick<Lens, 'device' | 'network' | 'visitor' | 'role' | 'cache'>): string {
  return [
    `${device.phone ? 'phone' : 'desk'} ${device.viewportWidth} × ${device.viewportHeight}`,
    device.cpuSlowdown > 1 ? `processor slowed ${device.cpuSlowdown} times` : null,
    network ? `${network.latencyMs} ms and ${count(network.downKbps)} kbit/s` : 'network as it is',
    visitor === 'signed-out' ? null : `signed in${role ? ` as ${role}` : ''}`,
    cache === 'warm' ? 'second view' : null,
  ]
    .filter(Boolean)
    .join(', ')
}
