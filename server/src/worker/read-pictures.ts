import { Op } from 'sequelize'
import { usedPictures } from '@unvelt/core'
import type { LookedAtPicture } from '@unvelt/contract'
import { OnDemandRow, type OnDemand, type PicturesTaken } from '../on-demand/on-demand.model.js'
import { PageRow } from '../page/page.model.js'
import { lensesToLookThrough, lensView } from '../picture-look/lenses-to-look-through.js'
import { lookAtPictures, type PicturesSeen } from '../picture-look/look-at-pictures.js'
import { looksOf } from '../picture-look/looks-of.js'
import { PictureFileRow } from '../picture-look/picture-file.model.js'
import { remadeOnce } from '../picture-look/remade-once.js'
import { keepPromises } from '../promise/keep-promises.js'
import { reachOf } from '../reach/reach.js'
import { measuringHeader } from '../site-http/measuring-header.js'
import { siteAddress } from '../site-http/site-address.js'
import type { OnDemandTools } from './read-on-demand.js'

/** So many files are made anew, those that are drawn foremost first. */
const MOST_PICTURES = 60

/**
 * Looks at the pictures of a page as each device draws them, through the site's signed-out lenses, and makes each anew at the
 * largest size at which any of them needs it. Whoever goes on after a kill looks anew: a page's pictures are those of one load of each.
 */
export async function readPictures(
  tools: OnDemandTools,
  { id, siteId, pageId, wish }: OnDemand<'pictures'>,
): Promise<void> {
  const { site, key, keep, turns, browsers } = tools
  const page = (await PageRow.findByPk(pageId!))!
  const lenses = await lensesToLookThrough(site.id)
  const url = siteAddress(site.address, page.path)
  await PictureFileRow.destroy({ where: { readingOnDemandId: id } })
  const told: PicturesTaken = { lenses: lenses.map(lensView), toLookAt: null, pictures: [] }
  await keep(told)
  const views: PicturesSeen[] = []
  for (const { settings } of lenses)
    views.push(
      await turns.beside(async () =>
        lookAtPictures(await browsers.shared(), {
          url: url.href,
          lens: settings,
          reach: reachOf(site),
          ownHosts: site.ownHosts,
          ...(key && {
            measuringHeader: () => measuringHeader(url, key, { rules: 'live', cache: 'bypass' }, Date.now() / 1000),
          }),
        }),
      ),
    )
  // Where two loads were given different bytes under one address, those of the first are looked at.
  const files = new Map([...views].reverse().flatMap((view) => [...view.files]))
  const used = usedPictures(views)
    .filter((picture) => files.has(picture.url))
    .slice(0, MOST_PICTURES)
  const framed = usedPictures(views.map(({ frames, ratio }) => ({ drawn: frames, ratio })))
  const pictures: LookedAtPicture[] = []
  const isOwn = (address: string) => site.ownHosts.includes(new URL(address).host)
  Object.assign(told, { toLookAt: used.length, pictures })
  told.frames = framed.map(({ url, where, lazy, drawnThrough }) => ({
    url,
    isOwn: isOwn(url),
    where,
    lazy,
    drawnThrough,
  }))
  await keep(told)
  for (const [n, picture] of used.entries()) {
    const body = files.get(picture.url)!
    // Times that are taken beside it would be none.
    const { hash, format, file, needed, remade, why } = await turns.beside(() =>
      remadeOnce(body, picture, wish.similarity),
    )
    for (const [as, content] of [['was', body] as const, ...remade.map(({ as, content }) => [as, content] as const)])
      await PictureFileRow.upsert({ readingOnDemandId: id, n, as, content })
    pictures.push({
      url: picture.url,
      isOwn: isOwn(picture.url),
      format,
      hash,
      bytes: body.length,
      fileWidth: file.width,
      fileHeight: file.height,
      drawnWidth: picture.width,
      drawnHeight: picture.height,
      neededWidth: needed.width,
      neededHeight: needed.height,
      times: picture.times,
      where: picture.where,
      lazy: picture.lazy,
      isLargest: picture.isLargest,
      drawnThrough: picture.drawnThrough,
      remade: remade.map(({ as, content, quality, similarity }) => ({
        as,
        bytes: content.length,
        quality,
        similarity,
      })),
      why,
    })
    await keep(told)
  }
  const said = []
  for (const { url, bytes, remade } of pictures)
    if (remade[0]) said.push({ url, bytes, saving: bytes - remade[0].bytes, looks: await looksOf(files.get(url)!) })
  await keepPromises(tools.sequelize, siteId, 'picture', said)
  // Only the newest look keeps its pictures: they are large, and of older ones nobody asks.
  await OnDemandRow.destroy({ where: { siteId, pageId, kind: 'pictures', state: 'done', id: { [Op.lt]: id } } })
}
