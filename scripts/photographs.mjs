// node scripts/photographs.mjs: makes the photographs of the stand-in's archive anew: drawn trees with the grain of old film.
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { treePicture } from '../standin/dist/media/tree-picture.js'
import { ROOT } from './lib/workspace.mjs'

const FOLDER = join(ROOT, 'standin/media')
mkdirSync(FOLDER, { recursive: true })

/** The same grain for the same number: a small congruential generator (Park and Miller 1988). */
function grain(seed, length, most) {
  const bytes = Buffer.alloc(length)
  let state = seed
  for (let n = 0; n < length; n++) {
    state = (state * 48271) % 2147483647
    bytes[n] = 128 + Math.round((state / 2147483647 - 0.5) * most)
  }
  return bytes
}

async function photograph(seed, width, height) {
  const [w, h] = [Math.round(width / 2), Math.round(height / 2)]
  const film = await sharp(grain(seed, w * h, 40), { raw: { width: w, height: h, channels: 1 } })
    .resize(width, height)
    .toColourspace('srgb')
    .png()
    .toBuffer()
  return sharp(Buffer.from(treePicture(seed, width, height)))
    .blur(1.2)
    .composite([{ input: film, blend: 'soft-light' }])
    .flatten({ background: '#fff' })
}

const save = async (name, picture) => {
  const body = await picture.toBuffer()
  writeFileSync(join(FOLDER, name), body)
  console.log(`${name}: ${body.length} bytes`)
}
await save('planting-day.jpg', (await photograph(11, 1280, 853)).jpeg({ quality: 88 }))
await save('first-glasshouse.png', (await photograph(23, 480, 320)).png({ palette: true, colours: 128 }))
await save('gate-in-snow.jpg', (await photograph(31, 480, 320)).jpeg({ quality: 60, mozjpeg: true }))
