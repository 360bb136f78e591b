import type { NowhereFile } from '@unvelt/contract'
import { nowhereRules } from '../api/nowhere.js'
import { download } from '../parts/download.js'

/** Cleaned stylesheets as a folder laid out like the site's own, with a table of what was left out and what was kept. */
export async function saveCleaned(site: number, files: readonly NowhereFile[]): Promise<void> {
  const [{ strToU8, zipSync }, { stringify }] = await Promise.all([
    import('fflate'),
    import('csv-stringify/browser/esm/sync'),
  ])
  const packed: Record<string, Uint8Array> = {}
  const rows: object[] = []
  for (const { n, url } of files) {
    const { rules, cleaned } = await nowhereRules(site, n)
    if (cleaned === null) continue
    packed[placeOf(url, packed)] = strToU8(cleaned)
    for (const { what, name, line, bytes, because } of rules)
      rows.push({
        file: url,
        line,
        what,
        name,
        bytes,
        'left out': because === null && what !== 'typeface' ? 'yes' : 'no',
        why: because ?? '',
      })
  }
  packed['left-out.csv'] = strToU8(stringify(rows, { header: true, bom: true, escape_formulas: true }))
  download('cleaned-styles.zip', new Blob([zipSync(packed) as Uint8Array<ArrayBuffer>], { type: 'application/zip' }))
}

/** Where a file goes; two of one path are told apart. */
function placeOf(url: string, taken: Record<string, unknown>): string {
  const { host, pathname } = new URL(url)
  const path = `${host.replace(':', '-')}${decodeURI(pathname)}`
    .replace(/[^\p{L}\p{N}./_-]/gu, '_')
    .replace(/\.{2,}/g, '_')
  const named = (n: number) => (n === 0 ? path : path.replace(/(\.[^./]*)?$/, (end) => `-${n}${end}`))
  let n = 0
  while (named(n) in taken) n += 1
  return named(n)
}
