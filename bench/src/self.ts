// Unvelt weighs itself: its own engine reads its own places, with the demo's past behind them.
//   npm run bench -- self [places]
import { launchBrowser } from '@unvelt/server'
import { ownWeight, PLACES, type OwnWeight } from './lib/own-weight.js'

const GOAL_BYTES = 220_000
const places = process.argv.length > 2 ? process.argv.slice(2) : PLACES
const site = `${process.env.UNVELT_URL!}/sites/1`
const browser = await launchBrowser(process.env.UNVELT_CHROMIUM!)
const kb = (bytes: number) => `${(bytes / 1_000).toFixed(1)} KB`.padStart(9)
let heaviest: OwnWeight | null = null
let idlest = 0
let again = 0
for (const place of places) {
  const desk = await ownWeight(browser, site, place, 'desk')
  const handset = await ownWeight(browser, site, place, 'handset')
  const second = await ownWeight(browser, site, place, 'second view')
  const secondOwn = second.transferBytes - second.dataBytes
  console.log(
    `${place.padEnd(22)} desk ${kb(desk.transferBytes)}, ${kb(desk.dataBytes)} of it data, ${desk.requests} requests, ${(desk.idleShare * 100).toFixed(0)} % of code idle; handset ${kb(handset.transferBytes)}; second view ${kb(secondOwn)} without data`,
  )
  for (const one of [desk, handset]) if (one.transferBytes > (heaviest?.transferBytes ?? 0)) heaviest = one
  idlest = Math.max(idlest, desk.idleShare)
  again = Math.max(again, secondOwn)
}
await browser.close()
console.log(`most idle code: ${(idlest * 100).toFixed(0)} % (goal 40); heaviest second view ${kb(again)} (goal 20)`)
console.log(`heaviest: ${heaviest!.place}, ${kb(heaviest!.transferBytes)} (goal ${kb(GOAL_BYTES)})`)
console.log(`self ratio=${(heaviest!.transferBytes / GOAL_BYTES).toFixed(3)} goal=1`)
