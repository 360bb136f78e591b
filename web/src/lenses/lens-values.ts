import type { Lens, LensConsentInput, LensInput, LensNetwork, LensVisitor, SignInField } from '@unvelt/contract'

/** A lens as its form holds it. */
export interface LensValues {
  name: string
  phone: string
  width: number
  height: number
  cpu: number
  network: string
  latency: number
  down: number
  up: number
  cache: 'cold' | 'warm'
  visitor: 'signed-out' | 'cookie' | 'form'
  role: string
  cookie: string
  /** Where the sign-in form stands; empty where it is described by hand. */
  page: string
  path: string
  /** What was found on that page, as it is filled in. */
  answers: (SignInField & { value: string })[]
  /** Names and values of a form that is described by hand, as a query has them. */
  fields: string
  byHand: boolean
  consent: 'none' | 'agreed' | 'refused'
  consentBy: 'press' | 'cookie' | 'storage' | 'session'
  consentSelector: string
  /** What stands on it, as it was found; typed ones have none. */
  consentName: string
  /** What is pressed before it; empty where it is there at once. */
  consentFirst: string
  consentFirstName: string
  /** Switches that are switched off before it, one a line. */
  consentOff: string
  consentCookie: string
  consentKey: string
  consentValue: string
}

export const OWN_NETWORK = 'own'

export const NETWORK_CHOICES: { key: string; name: string; network: LensNetwork | null }[] = [
  { key: 'wired', name: 'Wired: as it is', network: null },
  { key: '4g', name: '4G: 60 ms, 9 Mbit/s', network: { latencyMs: 60, downKbps: 9_000, upKbps: 3_000 } },
  { key: 'slow-4g', name: 'Slow 4G: 150 ms, 1.6 Mbit/s', network: { latencyMs: 150, downKbps: 1_600, upKbps: 750 } },
  {
    key: 'ocean',
    name: 'Across an ocean: 120 ms, 40 Mbit/s',
    network: { latencyMs: 120, downKbps: 40_000, upKbps: 20_000 },
  },
]
/** What figures of one's own begin with. */
const USUAL = NETWORK_CHOICES[1]!.network!

export function valuesOf(lens: Lens, keepName: boolean): LensValues {
  const { latencyMs, downKbps, upKbps } = lens.network ?? USUAL
  return {
    name: keepName ? lens.name : '',
    phone: lens.device.phone ? 'phone' : 'desk',
    width: lens.device.viewportWidth,
    height: lens.device.viewportHeight,
    cpu: lens.device.cpuSlowdown,
    network: NETWORK_CHOICES.find(({ network }) => isSame(network, lens.network))?.key ?? OWN_NETWORK,
    latency: latencyMs,
    down: downKbps,
    up: upKbps,
    cache: lens.cache,
    visitor: lens.visitor,
    role: lens.role ?? '',
    cookie: '',
    page: lens.signInPage ?? '',
    path: lens.signInPath ?? '',
    answers: [],
    fields: '',
    byHand: lens.signInPath !== null && lens.signInPage === null,
    consent: lens.consent?.answer ?? 'none',
    consentBy: lens.consent?.by ?? 'press',
    consentSelector: lens.consent?.selector ?? '',
    consentName: lens.consent?.name ?? '',
    consentFirst: lens.consent?.first?.selector ?? '',
    consentFirstName: lens.consent?.first?.name ?? '',
    consentOff: lens.consent?.off?.join('\n') ?? '',
    consentCookie: lens.consent?.cookie ?? '',
    consentKey: lens.consent?.key ?? '',
    consentValue: lens.consent?.value ?? '',
  }
}

const isSame = (one: LensNetwork | null, other: LensNetwork | null) =>
  one === null || other === null
    ? one === other
    : one.latencyMs === other.latencyMs && one.downKbps === other.downKbps && one.upKbps === other.upKbps

export function inputOf(values: LensValues): LensInput {
  const { name, phone, width, height, cpu, network, latency, down, up, cache } = values
  return {
    name: name.trim(),
    device: { viewportWidth: width, viewportHeight: height, phone: phone === 'phone', cpuSlowdown: cpu },
    network:
      network === OWN_NETWORK
        ? { latencyMs: latency, downKbps: down, upKbps: up }
        : (NETWORK_CHOICES.find(({ key }) => key === network)?.network ?? null),
    cache,
    visitor: visitorOf(values),
    consent: consentOf(values),
  }
}

function consentOf(values: LensValues): LensConsentInput | null {
  const { consent: answer, consentBy: by } = values
  if (answer === 'none') return null
  const first = { selector: values.consentFirst.trim(), name: values.consentFirstName }
  if (by === 'press') {
    const press = { selector: values.consentSelector.trim(), name: values.consentName }
    // Whoever agrees is asked for none, though some may have been entered before.
    const off = answer === 'agreed' ? [] : values.consentOff.split('\n').flatMap((line) => line.trim() || [])
    return { answer, by, ...press, ...(first.selector && { first }), ...(off.length > 0 && { off }) }
  }
  return by === 'cookie'
    ? { answer, by, cookie: values.consentCookie.trim() }
    : { answer, by, key: values.consentKey, value: values.consentValue }
}

/** Who looks; what was left empty is left out, so that what is kept of it stays. */
export function visitorOf({ visitor, role, cookie, page, path, answers, fields, byHand }: LensValues): LensVisitor {
  if (visitor === 'signed-out') return { kind: visitor }
  const as = { kind: visitor, role: role.trim() }
  if (visitor === 'cookie') return { ...as, ...(cookie && { cookie }) }
  const filledIn = byHand
    ? Object.fromEntries(new URLSearchParams(fields))
    : Object.fromEntries(answers.map(({ name, value }) => [name, value]))
  const anything = Object.values(filledIn).some((value) => value !== '')
  return { ...as, ...(!byHand && { page }), path, ...(anything && { fields: filledIn }) }
}
