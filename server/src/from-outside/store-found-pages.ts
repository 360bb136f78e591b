import { kindsOfPaths } from '@unvelt/core'
import type { Transaction } from 'sequelize'
import { PageRow } from '../page/page.model.js'
import type { SiteRow } from '../site/site.model.js'
import { markGonePages } from '../site/store-facts.js'
import type { FoundPages } from './find-pages.js'

/** Keeps the pages that were found. Until a reading tells a page's title, its path names it. */
export async function storeFoundPages(site: SiteRow, { pages }: FoundPages, transaction: Transaction): Promise<void> {
  const kinds = kindsOfPaths(pages.map(({ path }) => path))
  await PageRow.bulkCreate(
    pages.map(({ path, title, modified }, position) => ({
      siteId: site.id,
      path,
      title: title ?? path,
      kind: kinds[position]!,
      area: 'public' as const,
      position,
      modified,
      views: null,
      gone: false,
    })),
    {
      transaction,
      // A title that a reading told is better than none.
      updateOnDuplicate: ['kind', 'position', 'modified', 'gone'],
      conflictAttributes: ['siteId', 'path'],
    },
  )
  const paths = pages.map(({ path }) => path)
  await markGonePages(site, paths, transaction)
}
