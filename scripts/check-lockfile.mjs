// The lock file must hold no download addresses: the registry is the installer's business.
import { readFileSync } from 'node:fs'

const lock = readFileSync(new URL('../package-lock.json', import.meta.url), 'utf8')
const bad = lock.split('\n').findIndex((line) => /"resolved": "https?:/.test(line))
if (bad >= 0) {
  console.error(
    `package-lock.json:${bad + 1}: holds a download address; run npm install with omit-lockfile-registry-resolved`,
  )
  process.exit(1)
}
