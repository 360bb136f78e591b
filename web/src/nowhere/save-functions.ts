import type { NowhereFile } from '@unvelt/contract'
import { nowhereRules } from '../api/nowhere.js'
import { download } from '../parts/download.js'
import { KEPT_WORDS } from './nowhere-words.js'

/** Functions that never ran as a table, script by script. */
export async function saveFunctions(
  site: number,
  files: readonly NowhereFile[],
  payers: ReadonlyMap<string, string>,
): Promise<void> {
  const { stringify } = await import('csv-stringify/browser/esm/sync')
  const rows: object[] = []
  for (const { n, url, payer, pages } of files)
    for (const { name, line, bytes, because } of (await nowhereRules(site, n)).rules)
      rows.push({
        script: url,
        whose: payers.get(payer) ?? payer,
        pages,
        line,
        function: name,
        bytes,
        'may be needed': because ? KEPT_WORDS[because] : '',
      })
  const table = stringify(rows, { header: true, bom: true, escape_formulas: true })
  download('functions-that-never-ran.csv', new Blob([table], { type: 'text/csv' }))
}
