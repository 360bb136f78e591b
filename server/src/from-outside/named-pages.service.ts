import { Inject, Injectable } from '@nestjs/common'
import { kindsOfPaths } from '@unvelt/core'
import type { Page } from '@unvelt/contract'
import { Sequelize } from 'sequelize'
import { PageRow, pageView } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import type { SiteRow } from '../site/site.model.js'

/** Pages that the maintainer names, where neither the site nor its links tell of them. */
@Injectable()
export class NamedPagesService {
  constructor(@Inject(Sequelize) private readonly sequelize: Sequelize) {}

  /** All or none: an address that is not one of the site's is refused with the line it stands on. */
  async name(site: SiteRow, addresses: string[]): Promise<Page[]> {
    const paths = [...new Set(addresses.map((typed, line) => pathOn(site, typed, line + 1)))]
    const known = await PageRow.findAll({ where: { siteId: site.id } })
    const kinds = kindsOfPaths([...paths, ...known.map(({ path }) => path)])
    const last = Math.max(-1, ...known.map(({ position }) => position))
    await this.sequelize.transaction(async (transaction) => {
      for (const [index, path] of paths.entries()) {
        const page = known.find((each) => each.path === path)
        if (page?.gone === false) continue
        if (page) await page.update({ gone: false, byHand: true }, { transaction })
        else
          await PageRow.create(
            {
              siteId: site.id,
              path,
              title: path,
              kind: kinds[index]!,
              area: 'public',
              position: last + 1 + index,
              modified: null,
              views: null,
              byHand: true,
            },
            { transaction },
          )
      }
    })
    const named = await PageRow.findAll({ where: { siteId: site.id, path: paths }, order: ['position'] })
    return named.map(pageView)
  }

  /** Takes a named page out of what is swept. What was read of it stays. */
  async forget(site: SiteRow, id: number): Promise<void> {
    const [changed] = await PageRow.update(
      { gone: true, byHand: false },
      { where: { siteId: site.id, id, byHand: true } },
    )
    if (changed === 0) throw notFound('named page')
  }
}

function pathOn(site: SiteRow, typed: string, line: number): string {
  const text = typed.trim()
  const refuse = (expected: string) => {
    const message = `Line ${line}: expected ${expected}, found ${text.slice(0, 120) || 'nothing'}.`
    return new ProblemError(422, `${message} Nothing was taken in.`, [{ field: 'addresses', message }])
  }
  if (!/^(?:\/(?!\/)|https?:\/\/)/i.test(text) || !URL.canParse(text, site.address))
    throw refuse('a path that begins with / or an address of the site')
  const url = new URL(text, site.address)
  if (url.origin !== site.address) throw refuse(`an address at ${site.address}`)
  return url.pathname + url.search
}
