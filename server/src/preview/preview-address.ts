import { createHmac, timingSafeEqual } from 'node:crypto'

const LABEL = /^([a-z0-9]{10})-([0-9a-z]{6,9})-([a-z2-7]{26})$/
const ALPHABET = 'abcdefghijklmnopqrstuvwxyz234567'

/** 128 bits in base32 (RFC 4648, small letters), so that they can stand in a host name. */
function base32(bytes: Buffer): string {
  const bits = [...bytes].map((byte) => byte.toString(2).padStart(8, '0')).join('')
  return (bits.match(/.{1,5}/g) ?? []).map((five) => ALPHABET[parseInt(five.padEnd(5, '0'), 2)]).join('')
}

const signatureOf = (id: string, expires: string, secret: Buffer) =>
  base32(createHmac('sha256', secret).update(`preview\n${id}\n${expires}`).digest().subarray(0, 16))

/**
 * The first label of a preview's host name: its id, when it runs out, and a signature of both. The name is the key: whoever has
 * it may look, and frames, workers and fonts need nothing else.
 */
export function previewLabel(id: string, expiresAt: number, secret: Buffer): string {
  const expires = Math.floor(expiresAt / 1000).toString(36)
  return `${id}-${expires}-${signatureOf(id, expires, secret)}`
}

/** Below the preview's own name, which is that of the window around it. */
export const PAGE_LABEL = 'page'

/** The preview that a host name is of, and which part of it; why it is none otherwise. */
export function readPreviewHost(
  host: string,
  secret: Buffer,
  now: number,
): { id: string; part: 'page' | 'window' } | 'unknown' | 'over' {
  const labels = host.toLowerCase().split('.')
  const part = labels[0] === PAGE_LABEL ? 'page' : 'window'
  const found = LABEL.exec(labels[part === 'page' ? 1 : 0] ?? '')
  if (!found) return 'unknown'
  const [, id, expires, signature] = found as unknown as [string, string, string, string]
  if (!timingSafeEqual(Buffer.from(signature), Buffer.from(signatureOf(id, expires, secret)))) return 'unknown'
  return parseInt(expires, 36) * 1000 > now ? { id, part } : 'over'
}
