import { attribute, filmFrames, filmLanes, type Reading } from '@unvelt/core'
import { FILM_SIDES, type FilmSide } from '@unvelt/contract'
import type { Frame } from '../browser/film.js'
import type { ReadingOrder } from '../browser/reading-order.js'
import { FilmFrameRow } from '../film/film-frame.model.js'
import { LensRow } from '../lens/lens.model.js'
import type { FilmTaken, OnDemand } from '../on-demand/on-demand.model.js'
import { PageRow } from '../page/page.model.js'
import { ProofRow } from '../proof/proof.model.js'
import { reachOf } from '../reach/reach.js'
import { measuringHeader } from '../site-http/measuring-header.js'
import { signIn } from '../site-http/sign-in.js'
import { siteAddress } from '../site-http/site-address.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { readInLivingBrowser } from './read-in-living-browser.js'
import type { OnDemandTools } from './read-on-demand.js'

/** Films the load of a page under the rules before and after a change, through the lens of its proof. What was filmed before a kill stays. */
export async function readFilm(tools: OnDemandTools, { id, pageId, wish, taken }: OnDemand<'film'>): Promise<void> {
  const { site, key, keep, secret, turns, sequelize } = tools
  const [page, lens, proof] = await Promise.all([
    PageRow.findByPk(pageId!),
    LensRow.findByPk(wish.lensId, { paranoid: false }),
    ProofRow.findByPk(wish.proofId),
  ])
  const sources = (await SweepRow.findByPk(proof!.sweepId))!.sources
  const url = siteAddress(site.address, page!.path)
  const loads: FilmTaken = [...taken]
  for (const side of FILM_SIDES) {
    if (loads.some((load) => load.side === side)) continue
    await FilmFrameRow.destroy({ where: { readingOnDemandId: id, side } })
    const seen = { frames: [] as Frame[], begunAt: 0 }
    const order: ReadingOrder = {
      url: url.href,
      ownHosts: site.ownHosts,
      lens: lens!.settings,
      reach: reachOf(site),
      cookie: await turns.beside(() => signIn(site.address, lens!.settings, secret, reachOf(site))),
      clean: true,
      onFilm: (frames, begunAt) => void Object.assign(seen, { frames, begunAt }),
      ...(key && {
        measuringHeader: () => measuringHeader(url, key, { rules: wish[side], cache: 'bypass' }, Date.now() / 1000),
      }),
    }
    const reading = await readInLivingBrowser(tools, order, true)
    const frames = filmFrames(
      seen.frames.map(({ paintedAt, jpeg }) => ({ at: paintedAt - seen.begunAt, jpeg })),
      (a, b) => a.jpeg.equals(b.jpeg),
    )
    for (const [n, { jpeg }] of frames.entries()) await FilmFrameRow.create({ readingOnDemandId: id, side, n, jpeg })
    loads.push({
      ...timesOf(reading, side),
      frames: frames.map(({ at }) => Math.round(at)),
      lanes: filmLanes(reading, attribute(reading, sources)),
    })
    await keep(loads)
  }
  // Only the newest film of a page for a proof is shown.
  await sequelize.query(
    `delete from film_frame using reading_on_demand film where film.id = reading_on_demand_id and kind = 'film'
     and page_id = $1 and wish ->> 'proofId' = $2 and film.id < $3`,
    { bind: [pageId, String(wish.proofId), id] },
  )
}

const timesOf = ({ timings }: Reading, side: FilmSide) => ({
  side,
  firstPaintMs: timings.firstContentfulPaint,
  largestPaintMs: timings.largestContentfulPaint,
  loadMs: timings.load,
})
