import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'

const packages = createRequire(import.meta.url)
export const FACES = { serif: ['vollkorn', 'Hollow Serif'], sans: ['cabin', 'Hollow Sans'] } as const

/** A font file out of the packages that ship with the stand-in. */
export const fontFile = (face: keyof typeof FACES, weight: string): Buffer => {
  const [name] = FACES[face]
  return readFileSync(
    join(dirname(packages.resolve(`@fontsource/${name}/package.json`)), `files/${name}-latin-${weight}-normal.woff2`),
  )
}
