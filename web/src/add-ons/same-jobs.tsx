import { Link } from 'react-router'
import { MEASURE_WORDS, plural } from '../figures/format.js'
import { TollFigure } from '../figures/toll-figure.js'
import { Notice } from '../parts/notice.js'
import { sentenceOfUse, type Row } from './rows.js'

const SHOWN = ['requests', 'transferBytes', 'idleBytes', 'mainThreadMs', 'serverMs'] as const

/** Add-ons beside the others that do the same job: seldom are both needed. */
export function SameJobs({ rows, jobs }: { rows: Row[]; jobs: string[] }) {
  if (jobs.length === 0)
    return (
      <Notice title="No two add-ons do one job">
        Name the jobs on the sheets of the add-ons; those that have one in common are shown here together.
      </Notice>
    )
  return (
    <div className="h-full overflow-auto px-4 py-2">
      {jobs.map((job) => {
        const doers = rows.filter((row) => !row.gone && row.jobs.includes(job))
        return (
          <section key={job} aria-label={job} className="py-3">
            <h2 className="text-[17px]">
              {job}{' '}
              <span className="font-sans text-[13px] font-normal text-soft">{plural(doers.length, 'add-on')}</span>
            </h2>
            <table className="figures mt-1 w-full table-fixed">
              <thead>
                <tr className="border-b border-line text-[12.5px] text-soft">
                  <th className="w-[38%] py-1 text-left font-normal">Add-on</th>
                  {SHOWN.map((measure) => (
                    <th key={measure} className="py-1 text-right font-normal">
                      {MEASURE_WORDS[measure].name}
                    </th>
                  ))}
                  <th className="py-1 pl-6 text-left font-normal">Verdict</th>
                </tr>
              </thead>
              <tbody>
                {doers.map((row) => (
                  <tr key={row.slug} className="border-b border-line/60">
                    <td className="py-1.5">
                      <Link
                        to={`/sites/${row.site}/add-ons/${encodeURIComponent(row.slug)}`}
                        className="font-semibold text-verdigris hover:underline"
                      >
                        {row.name}
                      </Link>
                      <span className="block text-[12.5px] text-soft">
                        {row.active ? sentenceOfUse(row) : 'Switched off, still installed.'}
                      </span>
                    </td>
                    {SHOWN.map((measure) => (
                      <td key={measure} className="py-1.5 pl-4 text-right whitespace-nowrap">
                        <TollFigure measure={measure} value={row.figures[measure]} told={row.tells(measure)} dotted />
                      </td>
                    ))}
                    <td className="py-1.5 pl-6">{row.verdict.verdict}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        )
      })}
    </div>
  )
}
