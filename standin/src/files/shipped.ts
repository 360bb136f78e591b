import { readFileSync } from 'node:fs'

/** A file that ships with the stand-in, from its `files` folder. */
export function shippedFile(path: string): Buffer {
  return readFileSync(new URL(`../../files/${path}`, import.meta.url))
}

/** A shipped script or style with bulk behind it. */
export function shippedWith(path: string, bulk: string): Buffer {
  return Buffer.concat([shippedFile(path), Buffer.from(`\n${bulk}`)])
}
