// 200 pictures made anew, as lightly as they stay similar enough, beside sharp alone at the same work: the same sizes, formats and
// qualities, without a look at what came of them.
import sharp from 'sharp'
import { median, seeded } from '@unvelt/core'
import { remakePicture, REMADE_QUALITIES } from '@unvelt/server'

const PICTURES = Number(process.argv[2] ?? 200)
const ROUNDS = 3
const SIMILARITY = 0.98
const FILE = { width: 720, height: 480 }
const DRAWN = { width: 360, height: 240 }

const random = seeded(2026)
const bodies: Buffer[] = []
for (let n = 0; n < PICTURES; n++) bodies.push(await photograph(n))

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
  for (const [n, body] of some.entries()) await alone(body, triedOf(made[n]!.remade))
  plain.push(performance.now() - began)
}
const ratio = median(ours.map((ms, n) => ms / plain[n]!))
const sum = (times: number[]) => (times.reduce((a, b) => a + b, 0) / 1000).toFixed(1)
console.log(
  `${PICTURES} pictures of ${(weighed / 1e6).toFixed(1)} MB made anew in ${sum(ours)} s, ${(spared / 1e6).toFixed(1)} MB lighter; sharp alone in ${sum(plain)} s`,
)
console.log(`pictures ratio=${ratio.toFixed(2)} goal=1.3`)

/** A picture with slow changes and fine grain, as photographs have them; three of four JPEG, the fourth PNG. */
function photograph(n: number): Promise<Buffer> {
  const { width, height } = FILE
  const wave = (length: number) => {
    const [speed, from] = [0.005 + random() * 0.03, random() * 6]
    return Float64Array.from({ length }, (_, at) => Math.sin(speed * at + from))
  }
  const channels = [0, 1, 2].map(() => ({ across: wave(width), down: wave(height), both: wave(width + height) }))
  const data = Buffer.alloc(width * height * 3)
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (const { across, down, both } of channels)
        data[at++] = 128 + 38 * (across[x]! + down[y]! + both[x + y]!) + 14 * (random() - 0.5)
  const picture = sharp(data, { raw: { width, height, channels: 3 } })
  return n % 4 === 3 ? picture.png().toBuffer() : picture.jpeg({ quality: 92 }).toBuffer()
}

/** The qualities that were tried on the way to those that were chosen, by halving; of a format in which none would do, up to the highest. */
function triedOf(remade: readonly { as: string; quality: number }[]): [as: string, quality: number][] {
  return ['same', 'webp', 'avif'].flatMap((as) => {
    const chosen = remade.find((one) => one.as === as)?.quality ?? Infinity
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

async function alone(body: Buffer, tried: readonly [as: string, quality: number][]): Promise<void> {
  const { format } = await sharp(body).metadata()
  const { data, info } = await sharp(body)
    .rotate()
    .resize(DRAWN.width, DRAWN.height, { fit: 'fill' })
    .raw()
    .toBuffer({ resolveWithObject: true })
  for (const [as, quality] of tried) {
    const small = sharp(data, { raw: { width: info.width, height: info.height, channels: info.channels } })
    if (as === 'webp') await small.webp({ quality }).toBuffer()
    else if (as === 'avif') await small.avif({ quality, effort: 2 }).toBuffer()
    else if (format === 'png') await small.png({ palette: true, quality, compressionLevel: 9 }).toBuffer()
    else await small.jpeg({ quality, mozjpeg: true }).toBuffer()
  }
}
