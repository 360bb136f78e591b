import { stringify } from 'csv-stringify/browser/esm/sync'
import { strToU8, zipSync } from 'fflate'
import { renderToStaticMarkup } from 'react-dom/server'
import type { Proof } from '@unvelt/contract'
import { measureWords } from '../proof/proof-words.js'
import { Paper, type PaperProps } from './paper.js'
import { PAPER_STYLE } from './paper-style.js'

/** The paper as one HTML file that asks nobody for anything. */
export function paperHtml(props: PaperProps): string {
  const body = renderToStaticMarkup(
    <html lang="en">
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width" />
        <title>{props.proof.title}</title>
        <style dangerouslySetInnerHTML={{ __html: PAPER_STYLE }} />
      </head>
      <body>
        <Paper {...props} />
      </body>
    </html>,
  )
  return `<!doctype html>${body}`
}

/** Every figure a line, its readings behind it. A text that a spreadsheet would take for a formula is none. */
export function proofCsv({ pages }: Proof): string {
  const rows = pages.flatMap(({ page, figures, predicted }) =>
    Object.entries(figures).map(([measure, figure]) => ({
      page: page.path,
      title: page.title,
      'views in thirty days': page.views,
      measure: measureWords(measure).name,
      field: measure,
      before: figure.before,
      after: figure.after,
      difference: figure.difference,
      low: figure.low,
      high: figure.high,
      word: figure.word,
      predicted: predicted[measure] ?? null,
      'readings before': figure.beforeReadings.join(' '),
      'readings after': figure.afterReadings.join(' '),
    })),
  )
  return stringify(rows, { header: true, bom: true, escape_formulas: true })
}

export const proofJson = (proof: Proof): string => `${JSON.stringify(proof, null, 2)}\n`

/** A folder that opens from disk. */
export function paperFolder(props: PaperProps): Uint8Array<ArrayBuffer> {
  const name = fileName(props.proof)
  return zipSync({
    [name]: {
      'index.html': strToU8(paperHtml(props)),
      'figures.csv': strToU8(proofCsv(props.proof)),
      'proof.json': strToU8(proofJson(props.proof)),
    },
  }) as Uint8Array<ArrayBuffer>
}

/** What its files are called, without their endings. */
export const fileName = ({ id, title }: Proof): string =>
  `proof-${id}-${title
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60)}`
