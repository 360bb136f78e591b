import type { Lens, LensInput, LensNetwork } from '@unvelt/contract'

/** A lens as its form holds it. */
export interface LensValues {
  name: string
  phone: string
  width: number
  height: number
  cpu: number
  network: string
  cache: 'cold' | 'warm'
  visitor: 'signed-out' | 'cookie' | 'form'
  role: string
  cookie: string
  path: string
  fields: string
}

export const NETWORK_CHOICES: { key: string; name: string; network: LensNetwork | null }[] = [
  { key: 'wired', name: 'Wired: as it is', network: null },
  { key: '4g', name: '4G: 60 ms, 9,000 kbit/s', network: { latencyMs: 60, downKbps: 9_000, upKbps: 3_000 } },
  { key: 'slow-4g', name: 'Slow 4G: 150 ms, 1,600 kbit/s', network: { latencyMs: 150, downKbps: 1_600, upKbps: 750 } },
  {
    key: 'ocean',
    name: 'Across an ocean: 120 ms, 40,000 kbit/s',
    network: { latencyMs: 120, downKbps: 40_000, upKbps: 20_000 },
  },
]

export function valuesOf(lens: Lens, keepName: boolean): LensValues {
  const known = NETWORK_CHOICES.find(({ network }) => network?.latencyMs === lens.network?.latencyMs)
  return {
    name: keepName ? lens.name : '',
    phone: lens.device.phone ? 'phone' : 'desk',
    width: lens.device.viewportWidth,
    height: lens.device.viewportHeight,
    cpu: lens.device.cpuSlowdown,
    network: known?.key ?? 'wired',
    cache: lens.cache,
    visitor: lens.visitor,
    role: lens.role ?? '',
    cookie: '',
    path: '',
    fields: '',
  }
}

export function inputOf(values: LensValues): LensInput {
  const { name, phone, width, height, cpu, network, cache, visitor, role, cookie, path, fields } = values
  return {
    name: name.trim(),
    device: { viewportWidth: width, viewportHeight: height, phone: phone === 'phone', cpuSlowdown: cpu },
    network: NETWORK_CHOICES.find(({ key }) => key === network)?.network ?? null,
    cache,
    visitor: {
      kind: visitor,
      ...(visitor !== 'signed-out' && { role: role.trim() }),
      ...(visitor === 'cookie' && { cookie }),
      ...(visitor === 'form' && { path, fields: Object.fromEntries(new URLSearchParams(fields)) }),
    },
  }
}
