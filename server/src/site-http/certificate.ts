import { createHash, X509Certificate } from 'node:crypto'
import { isIP } from 'node:net'
import { connect, type DetailedPeerCertificate, type PeerCertificate, type TLSSocket } from 'node:tls'
import { checkLiteral, lookupWithin, type Reach } from '../reach/reach.js'
import { mappedAddress } from './mapped-address.js'
import type { PinnedCertificate } from './site-way.js'

const WITHIN_MS = 10_000
/** What a certificate says of itself is somebody else's text. */
const LONGEST = 200
const MOST_NAMES = 20

/** A certificate as a host shows it, and why no browser would take it. */
export interface ShownCertificate extends PinnedCertificate {
  why: string | null
}

/** A host shows another certificate than the one that is taken for it. */
export class OtherCertificate extends Error {
  readonly code = 'OTHER_CERTIFICATE'
  constructor(
    readonly host: string,
    readonly shown: string,
  ) {
    super(
      `${host} shows another certificate than the one that was accepted for it; the one it shows has the fingerprint ${shown}`,
    )
  }
}

/** The certificate that an address shows, whoever vouches for it. @throws Error where there is no TLS at all. */
export async function shownCertificate(address: string, reach: Reach): Promise<ShownCertificate> {
  const { hostname, port } = new URL(address)
  checkLiteral(hostname, reach)
  const host = hostname.replace(/^\[|\]$/g, '')
  const socket = connect({
    host,
    port: Number(port) || 443,
    servername: isIP(host) ? '' : host,
    lookup: lookupWithin(reach, mappedAddress),
    rejectUnauthorized: false,
    timeout: WITHIN_MS,
  })
  try {
    await new Promise<void>((resolve, reject) => {
      socket.once('secureConnect', resolve)
      socket.once('error', reject)
      socket.once('timeout', () => reject(Object.assign(new Error('timed out'), { code: 'ETIMEDOUT' })))
    })
    const told = detailsOf(socket.getPeerCertificate(true))
    return { ...told, why: socket.authorized ? null : whyNotTaken(socket) }
  } finally {
    socket.destroy()
  }
}

/** Whether what a host shows is the certificate that is taken for it. */
export const isPinned = (socket: TLSSocket, { fingerprint }: PinnedCertificate): boolean =>
  fingerprintOf(socket) === fingerprint

export const fingerprintOf = (socket: TLSSocket): string => socket.getPeerCertificate().fingerprint256

function detailsOf(certificate: DetailedPeerCertificate): PinnedCertificate {
  const { subject, issuer, subjectaltname = '', valid_from, valid_to, fingerprint256 } = certificate
  const names = subjectaltname
    .split(', ')
    .map((name) => name.replace(/^(?:DNS|IP Address):/, ''))
    .filter((name) => name !== '')
  return {
    fingerprint: fingerprint256,
    spki: spkiOf(certificate),
    subject: named(subject),
    issuer: named(issuer),
    names: names.slice(0, MOST_NAMES).map((name) => name.slice(0, LONGEST)),
    validFrom: new Date(valid_from).toISOString(),
    validTo: new Date(valid_to).toISOString(),
  }
}

function spkiOf({ raw }: PeerCertificate): string {
  const spki = new X509Certificate(raw).publicKey.export({ type: 'spki', format: 'der' })
  return createHash('sha256').update(spki).digest('base64')
}

const named = (who: PeerCertificate['subject']) => [who.CN, who.O].flat().filter(Boolean).join(', ').slice(0, LONGEST)

const WHY: Record<string, string> = {
  DEPTH_ZERO_SELF_SIGNED_CERT: 'Nobody but itself vouches for it.',
  SELF_SIGNED_CERT_IN_CHAIN: 'It is vouched for by somebody whom browsers do not know.',
  UNABLE_TO_VERIFY_LEAF_SIGNATURE: 'Nobody whom browsers trust vouches for it.',
  UNABLE_TO_GET_ISSUER_CERT_LOCALLY: 'Nobody whom browsers trust vouches for it.',
  CERT_HAS_EXPIRED: 'It has expired.',
  CERT_NOT_YET_VALID: 'It is not valid yet.',
  ERR_TLS_CERT_ALTNAME_INVALID: 'It is for other hosts than this one.',
}

function whyNotTaken({ authorizationError }: TLSSocket): string {
  const code = String((authorizationError as Error & { code?: string })?.code ?? authorizationError)
  return WHY[code] ?? `No browser would take it (${code.slice(0, LONGEST)}).`
}
