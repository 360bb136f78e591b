/** How a page is looked at, as it is kept. What signs a visitor in is sealed. */
export interface LensSettings {
  device: { viewportWidth: number; viewportHeight: number; phone: boolean; cpuSlowdown: number }
  network: { latencyMs: number; downKbps: number; upKbps: number } | null
  visitor:
    | { kind: 'signed-out' }
    | { kind: 'cookie'; role: string; sealed: string }
    /** Sent to `path`, or to where the form of `page` is sent, with what the site has filled in there. */
    | { kind: 'form'; role: string; path: string; page?: string; sealed: string }
  cache: 'cold' | 'warm'
  /** What the visitor has answered where the site asks whether it may follow them; null where nothing was answered. */
  consent: LensConsent | null
}

/** An answer, and how it is given: pressed on the site's own banner, or as what the site keeps of it. */
export type LensConsent = { answer: 'agreed' | 'refused' } &
  /** `first` is pressed before it, where it is not there at once; then what is on of `off` is switched off. */
  (
    | { by: 'press'; selector: string; name: string; first?: { selector: string; name: string }; off?: string[] }
    | { by: 'cookie'; cookie: string }
    | { by: 'storage'; key: string; value: string }
    /** As long as the tab is open. */
    | { by: 'session'; key: string; value: string }
  )

const DESK = { viewportWidth: 1280, viewportHeight: 800, phone: false, cpuSlowdown: 1 }
const HANDSET = { viewportWidth: 390, viewportHeight: 844, phone: true, cpuSlowdown: 4 }

/** Usual networks: what a page feels at the far end, not what the contract says. */
export const NETWORKS = {
  '4G': { latencyMs: 60, downKbps: 9_000, upKbps: 3_000 },
  'slow 4G': { latencyMs: 150, downKbps: 1_600, upKbps: 750 },
  'across an ocean': { latencyMs: 120, downKbps: 40_000, upKbps: 20_000 },
} as const

const lens = (name: string, settings: Partial<LensSettings>) => ({
  name,
  settings: {
    device: DESK,
    network: null,
    visitor: { kind: 'signed-out' },
    cache: 'cold',
    consent: null,
    ...settings,
  } as LensSettings,
})

/** The lens that a site is first looked at through. */
export const DEFAULT_LENS = lens('Desk, wired, signed out, cold cache', {})

/** What a site has to choose from when it is registered; all of it can be changed. */
export const FIRST_LENSES = [
  DEFAULT_LENS,
  lens('Handset, 4G, signed out, cold cache', { device: HANDSET, network: { ...NETWORKS['4G'] } }),
  lens('Handset, slow 4G, signed out, cold cache', { device: HANDSET, network: { ...NETWORKS['slow 4G'] } }),
  lens('Desk, across an ocean, signed out, cold cache', { network: { ...NETWORKS['across an ocean'] } }),
  lens('Desk, wired, signed out, second view', { cache: 'warm' }),
]

/** Fills in what lenses of earlier versions lack. */
export function completeSettings(stored: Partial<LensSettings>): LensSettings {
  return { ...DEFAULT_LENS.settings, ...stored, device: { ...DESK, ...stored.device } }
}
