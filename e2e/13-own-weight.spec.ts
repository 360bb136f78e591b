import { execFile } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { expect, test } from '@playwright/test'

/** What Unvelt itself may weigh, which `npm run bench -- self` tells in full: beside its goal, and in KB the second time. */
const MOST_BESIDE_GOAL = 1.1
const MOST_AGAIN_KB = 20

test('Unvelt’s own heaviest place keeps to its budget, read by its own engine', async () => {
  const bench = fileURLToPath(new URL('../bench/dist/self.js', import.meta.url))
  const env = { ...process.env, UNVELT_URL: process.env.UNVELT_PAST_URL! }
  const { stdout } = await promisify(execFile)(process.execPath, [bench, 'ledger', 'add-ons/canopy-slider'], { env })
  const figure = (pattern: RegExp) => Number(pattern.exec(stdout)?.[1])
  expect(stdout).toMatch(/^ledger +desk +\d+/m)
  expect(figure(/^self ratio=([\d.]+)/m), stdout).toBeLessThanOrEqual(MOST_BESIDE_GOAL)
  expect(figure(/heaviest second view +([\d.]+) KB/), stdout).toBeLessThanOrEqual(MOST_AGAIN_KB)
})
