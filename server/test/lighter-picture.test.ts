import sharp from 'sharp'
import { QueryTypes, Sequelize } from 'sequelize'
import { lighterPicture, pictureType } from '../src/reading/lighter-picture.js'
import { keepBytes, keepLighter } from '../src/reading/picture-bytes.js'
import { appForTest, KEY } from './app-for-test.js'

const LINES = Array.from(
  { length: 40 },
  (_, n) => `<text x="9" y="${30 + 24 * n}" font-size="16">Line ${n} of it</text>`,
)
const aPage = (colour: string) =>
  sharp(
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="800" height="1000"><rect width="100%" height="100%" fill="${colour}"/>${LINES.join('')}</svg>`,
    ),
  )
    .jpeg({ quality: 60 })
    .toBuffer()

it('a picture of a page is kept as AVIF, of the same size and lighter; what is no picture stays as it is', async () => {
  const jpeg = await aPage('#fafafa')
  const kept = await lighterPicture(jpeg)
  expect(kept.length).toBeLessThan(jpeg.length / 2)
  expect([pictureType(jpeg), pictureType(kept)]).toEqual(['image/jpeg', 'image/avif'])
  expect(await sharp(kept).metadata()).toMatchObject({ width: 800, height: 1000 })
  const none = Buffer.from('no picture')
  expect(await lighterPicture(none)).toBe(none)
  expect(pictureType(none)).toBe('image/jpeg')
})

it('the same picture is kept once, and apart from the one that others are compared with', async () => {
  const t = await appForTest()
  try {
    const db = t.app.get(Sequelize)
    const site = (await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })).body
      .id
    const jpeg = await aPage('#fff')
    const lighter = await keepLighter(db, site, jpeg)
    expect(await keepLighter(db, site, Buffer.from(jpeg))).toBe(lighter)
    const asTaken = await keepBytes(db, site, jpeg)
    expect(asTaken).not.toBe(lighter)
    const rows = await db.query<{ id: number; content: Buffer }>('select id, content from picture_bytes order by id', {
      type: QueryTypes.SELECT,
    })
    expect(rows.map(({ id, content }) => [id, pictureType(content)])).toEqual([
      [lighter, 'image/avif'],
      [asTaken, 'image/jpeg'],
    ])
    expect(rows[1]!.content.equals(jpeg)).toBe(true)
  } finally {
    await t.stop()
  }
})
