import type { Rule } from '@unvelt/core'
import { MadeCopyRow } from '../made-copy/made-copy.model.js'
import type { SiteRow } from '../site/site.model.js'

/**
 * What is wrong with rules that serve copies which were made: none is known of that content, of that file, or the site takes none.
 * @param isMeant Of each rule, whether it is to hold.
 */
export async function unmadeCopies(
  site: SiteRow,
  rules: readonly Rule[],
  isMeant: (n: number) => boolean,
): Promise<{ field: string; message: string }[]> {
  const content = rules.flatMap(({ copy }, n) => (isMeant(n) ? (copy?.content ?? []) : []))
  if (content.length === 0) return []
  const takes = site.connector?.calls?.includes('POST /copies') === true
  const made = await MadeCopyRow.findAll({
    where: { siteId: site.id, content },
    attributes: ['content', 'from', 'file', 'addon'],
  })
  return rules.flatMap(({ copy, file, addon }, n) => {
    if (copy?.content === undefined || !isMeant(n)) return []
    const field = `rules/${n}/copy`
    if (!takes) return [{ field, message: 'The site takes no copies that were made for it.' }]
    const known = made.some(
      (row) => row.content === copy.content && row.from === copy.from && row.file === file && row.addon === addon,
    )
    return known
      ? []
      : [{ field, message: `No such copy of ${file} was made for this site. It is made under Pages, Used nowhere.` }]
  })
}
