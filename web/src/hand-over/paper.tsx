import type { DraftAside, Proof, ProofPage, RuleView, Site } from '@unvelt/contract'
import { dateTime, plural, signed } from '../figures/format.js'
import { intervalWords, measureWords, wordOf } from '../proof/proof-words.js'
import { changesBetween, placeAndVisit } from '../rules/rule-rows.js'
import { effectWords, subjectWords } from '../rules/words.js'
import { gainWords } from './gain-words.js'
import type { Letterhead } from './letterhead.js'

export interface PaperProps {
  site: Site
  proof: Proof
  /** The rules of the two versions that the proof compares; null where they are not known any more. */
  before: readonly RuleView[] | null
  after: readonly RuleView[] | null
  aside: readonly DraftAside[]
  letterhead: Letterhead
  /** Where Unvelt is, so that figures lead back to their readings. */
  origin: string
}

/** What is handed over of a proof: whole in itself, without a script, to be read by somebody who has never seen Unvelt. */
export function Paper({ site, proof, before, after, aside, letterhead, origin }: PaperProps) {
  const { sweep, pages } = proof
  const address = `${origin}/sites/${site.id}/proof/${proof.id}`
  return (
    <main>
      <header>
        <div>
          {letterhead.mark && <img src={letterhead.mark} alt={letterhead.from} />}
          {letterhead.from && <p className="from">{letterhead.from}</p>}
        </div>
        <p>
          {letterhead.to && (
            <>
              For {letterhead.to}
              <br />
            </>
          )}
          {dateTime(sweep.finishedAt ?? sweep.startedAt)}
        </p>
      </header>
      <h1>{proof.title}</h1>
      <p className="soft">
        {site.name}, {site.address}
      </p>
      <section>
        <h2>What visitors notice</h2>
        <p className="gain">{gainWords(pages).join(' ')}</p>
      </section>
      <Changes before={before} after={after} proof={proof} />
      <section>
        <h2>Before and after</h2>
        {pages.map((page) => (
          <PageTable key={page.page.id} page={page} address={address} />
        ))}
      </section>
      {aside.length > 0 && (
        <section>
          <h2>Looked at, and left alone</h2>
          <ul>
            {aside.map(({ rule, why }) => (
              <li key={rule.id}>
                <b>{subjectWords(rule)}</b> {effectWords(rule)} {placeAndVisit(rule)}: {why}
              </li>
            ))}
          </ul>
        </section>
      )}
      <Method proof={proof} address={address} />
    </main>
  )
}

function Changes({ before, after, proof }: Pick<PaperProps, 'before' | 'after' | 'proof'>) {
  const changes = before && after && changesBetween(before, after)
  return (
    <section>
      <h2>What was changed</h2>
      {changes ? (
        <ul>
          {changes.map(({ sign, row: { rule, was } }) => (
            <li key={`${sign}${rule.id}`}>
              {sign === '−' && 'No longer: '}
              <b>{subjectWords(rule)}</b> {effectWords(rule)}
              {was && ` (it was ${effectWords(was)})`} {placeAndVisit(rule)}
              {rule.note && <span className="soft">. {rule.note}</span>}
            </li>
          ))}
          {changes.length === 0 && <li>Nothing: the two versions of the rules say the same.</li>}
        </ul>
      ) : (
        <p>
          Version {proof.fromVersion} of the rules against version {proof.toVersion}. What is in them is not known any
          more.
        </p>
      )}
    </section>
  )
}

function PageTable({ page: { page, figures }, address }: { page: ProofPage; address: string }) {
  return (
    <table>
      <caption>
        <b>{page.title}</b> <a href={address}>{page.path}</a>
      </caption>
      <thead>
        <tr>
          <th scope="col">Middle of all readings</th>
          <th scope="col">before</th>
          <th scope="col">after</th>
          <th scope="col">difference</th>
          <th scope="col">with 95 % certainty</th>
          <th scope="col">in a word</th>
        </tr>
      </thead>
      <tbody>
        {Object.entries(figures).map(([measure, figure]) => {
          const { name, long } = measureWords(measure)
          const { before, after, difference } = figure
          const isKnown = before !== null && after !== null
          return (
            <tr key={measure} className={figure.word === 'better' || figure.word === 'worse' ? figure.word : ''}>
              <th scope="row">{name}</th>
              <td>{isKnown ? long(before) : '–'}</td>
              <td>{isKnown ? long(after) : '–'}</td>
              <td>{isKnown ? signed(difference ?? after - before, long) : '–'}</td>
              <td>{intervalWords(figure, long)}</td>
              <td className="word">{wordOf(figure)}</td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}

function Method({ proof: { sweep, fromVersion, toVersion }, address }: { proof: Proof; address: string }) {
  return (
    <section className="method">
      <h2>How it was measured, and what it can’t tell</h2>
      <p>
        {plural(sweep.readings, 'reading')} of {plural(sweep.pages, 'page')}, begun {dateTime(sweep.startedAt)}: each
        page was loaded by a real browser ({sweep.lens}) under version {fromVersion} and under version {toVersion} of
        the rules in turn, so that what drifts meanwhile drifts for both. The site’s own caches were passed by. A
        difference is called better or worse only where chance does not explain it; all figures were judged together, so
        that many of them give chance no more room than one. Where it says <i>no measurable change</i>, a smaller
        difference may still be there.
      </p>
      {sweep.failures.length > 0 && (
        <p>
          Not read:{' '}
          {sweep.failures.map(({ reason, paths }) => `${paths.join(', ')} (${reason.replace(/\.$/, '')})`).join('; ')}.
        </p>
      )}
      <p>
        What other visitors’ machines and networks make of the pages was not measured. Every single reading is kept at{' '}
        <a href={address}>{address}</a>.
      </p>
    </section>
  )
}
