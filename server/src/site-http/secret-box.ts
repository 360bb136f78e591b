import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'

/** Seals a text with AES-256-GCM for keeping in the database: base64 of nonce, tag and ciphertext. */
export function seal(text: string, secret: Buffer): string {
  const nonce = randomBytes(12)
  const cipher = createCipheriv('aes-256-gcm', secret, nonce)
  const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()])
  return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString('base64')
}

/** Opens what `seal` made. @throws Error when it was changed or sealed with another secret. */
export function open(sealed: string, secret: Buffer): string {
  const bytes = Buffer.from(sealed, 'base64')
  const decipher = createDecipheriv('aes-256-gcm', secret, bytes.subarray(0, 12))
  decipher.setAuthTag(bytes.subarray(12, 28))
  return Buffer.concat([decipher.update(bytes.subarray(28)), decipher.final()]).toString('utf8')
}
