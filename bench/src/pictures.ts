// 200 pictures made anew, as lightly as they stay similar enough, beside sharp alone at the same work: the same sizes, formats and
// qualities, without a look at what came of them.
import sharp from 'sharp'
import { median, seeded } from '@unvelt/core'
import { remakePicture, REMADE_QUALITIES } from '@unvelt/server'

const PICTURES = 200
const ROUNDS = 3
const SIMILARITY = 0.98
const DRAWN = { width: 480, height: 320 }

const random = seeded(2026)
const bodies = await Promise.all(Array.from({ length: PICTURES }, (_, n) => photograph(n)))

const ours: number[] = []
const plain: number[] = []
let spared = 0
let weighed = 0
for (let round = 0; round < ROUNDS; round++) {
  // A part of them each round, in turn with the same work done plainly.
  const some = bodies.filter((_, n) => n % ROUNDS === round)
  let began = performance.now()
  const made = []
  for (const body of some) made.push(await remakePicture(body, DRAWN, SIMILARITY))
  ours.push(performance.now() - began)
  spared += made.reduce((sum, { remade }, n) => sum + (remade[0] ? some[n]!.length - remade[0].content.length : 0), 0)
  weighed += some.reduce((sum, body) => sum + body.length, 0)
  began = performance.now()
  for (const [n, body] of some.entries())
    for (const [as, quality] of triedOf(made[n]!.remade)) await alone(body, as, quality)
  plain.push(performance.now() - began)
}
const ratio = median(ours.map((ms, n) => ms / plain[n]!))
const sum = (times: number[]) => (times.reduce((a, b) => a + b, 0) / 1000).toFixed(1)
console.log(
  `${PICTURES} pictures of ${(weighed / 1e6).toFixed(1)} MB made anew in ${sum(ours)} s, ${(spared / 1e6).toFixed(1)} MB lighter; sharp alone in ${sum(plain)} s`,
)
console.log(`pictures ratio=${ratio.toFixed(2)} goal=1.3`)

/** A picture with slow changes and fine grain, as photographs have them; three of four JPEG, the fourth PNG. */
async function photograph(n: number): Promise<Buffer> {
  const [width, height] = [960, 640]
  const data = Buffer.alloc(width * height * 3)
  const waves = Array.from({ length: 9 }, () => [random() * 0.03, random() * 0.03, random() * 6] as const)
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let channel = 0; channel < 3; channel++) {
        const level = [0, 3, 6].reduce((all, k) => {
          const [a, b, c] = waves[k + channel]!
          return all + Math.sin(a * x + b * y + c)
        }, 0)
        data[at++] = 128 + 38 * level + 14 * (random() - 0.5)
      }
  const picture = sharp(data, { raw: { width, height, channels: 3 } })
  return n % 4 === 3 ? picture.png().toBuffer() : picture.jpeg({ quality: 92 }).toBuffer()
}

/** The qualities that were tried on the way to those that were chosen, by halving. */
function triedOf(remade: readonly { as: string; quality: number }[]): [as: string, quality: number][] {
  return remade.flatMap(({ as, quality: chosen }) => {
    const tried: [string, number][] = []
    for (let low = 0, high = REMADE_QUALITIES.length - 1; low <= high;) {
      const middle = (low + high) >> 1
      const quality = REMADE_QUALITIES[middle]!
      tried.push([as, quality])
      if (quality >= chosen) high = middle - 1
      else low = middle + 1
    }
    return tried
  })
}

async function alone(body: Buffer, as: string, quality: number): Promise<void> {
  const small = sharp(body).rotate().resize(DRAWN.width, DRAWN.height, { fit: 'fill' })
  if (as === 'webp') await small.webp({ quality }).toBuffer()
  else if (as === 'avif') await small.avif({ quality, effort: 2 }).toBuffer()
  else if ((await sharp(body).metadata()).format === 'png')
    await small.png({ palette: true, quality, compressionLevel: 9 }).toBuffer()
  else await small.jpeg({ quality, mozjpeg: true }).toBuffer()
}
