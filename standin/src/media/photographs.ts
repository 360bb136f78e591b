import { readFileSync } from 'node:fs'

/** Made by scripts/photographs.mjs. One is far too large for what is drawn of it, one a photograph as PNG, one as it should be. */
const NAMES = ['planting-day.jpg', 'first-glasshouse.png', 'gate-in-snow.jpg']

/** By the path at which they are served. */
export const photographs = new Map(
  NAMES.map((name) => [`/media/${name}`, readFileSync(new URL(`../../media/${name}`, import.meta.url))]),
)
