import { useSearchParams } from 'react-router'
import { resolve, type Page, type RuleView, type Site } from '@unvelt/contract'
import { useAddOns, usePages } from '../api/queries.js'
import { CopyPageRules } from './copy-page-rules.js'
import { effectWords, placeWords } from './words.js'

/** What holds on one page for one visitor, and which rule decides it. */
export function PageRules({ site, rules }: { site: Site; rules: RuleView[] }) {
  const { data: pages = [] } = usePages(site.id)
  const { data: addOns = [] } = useAddOns(site.id)
  const [search, setSearch] = useSearchParams()
  const page = pages.find(({ id }) => String(id) === search.get('on')) ?? null
  const device = search.get('at') === 'handset' ? 'handset' : 'desk'
  const visitor = search.get('as') === 'signed-in' ? 'signed-in' : 'signed-out'
  const put = (key: string, value: string) =>
    setSearch(
      (old) => {
        const next = new URLSearchParams(old)
        if (value === '') next.delete(key)
        else next.set(key, value)
        return next
      },
      { replace: true, preventScrollReset: true },
    )
  const names = new Map(addOns.map(({ slug, name }) => [slug, name]))
  return (
    <section aria-label="On one page" className="border-b border-line px-4 pt-4 pb-4">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <h2 className="text-[17px]">What holds on</h2>
        <select
          aria-label="Page"
          value={page?.id ?? ''}
          onChange={({ target }) => put('on', target.value)}
          className="h-8 w-80 max-w-full border border-line bg-sheet px-2"
        >
          <option value="">choose a page</option>
          {byKind(pages).map(([kind, some]) => (
            <optgroup key={kind} label={kind}>
              {some.map(({ id, title, path }) => (
                <option key={id} value={id}>
                  {title} ({path})
                </option>
              ))}
            </optgroup>
          ))}
        </select>
        <select
          aria-label="Device"
          value={device}
          onChange={({ target }) => put('at', target.value === 'desk' ? '' : target.value)}
          className="h-8 border border-line bg-sheet px-2"
        >
          <option value="desk">at a desk</option>
          <option value="handset">on a handset</option>
        </select>
        <select
          aria-label="Visitor"
          value={visitor}
          onChange={({ target }) => put('as', target.value === 'signed-out' ? '' : target.value)}
          className="h-8 border border-line bg-sheet px-2"
        >
          <option value="signed-out">for those who have not signed in</option>
          <option value="signed-in">for people who have signed in</option>
        </select>
      </div>
      {page && <Decisions rules={rules} page={page} visit={{ device, visitor }} names={names} />}
      {page && <CopyPageRules site={site} page={page} pages={pages} rules={rules} />}
    </section>
  )
}

interface DecisionsProps {
  rules: RuleView[]
  page: Page
  visit: Parameters<typeof resolve>[2]
  names: ReadonlyMap<string, string>
}

function Decisions({ rules, page, visit, names }: DecisionsProps) {
  const { path, kind, area } = page
  const decided = resolve(rules, { path, kind, area: area === 'office' ? 'office' : 'public' }, visit)
  const byId = new Map(rules.map((rule) => [rule.id, rule]))
  if (decided.length === 0) return <p className="mt-2 text-soft">No rule touches this page for such a visitor.</p>
  return (
    <table aria-label="What holds on the page" className="mt-2 w-full">
      <thead>
        <tr className="border-b border-line text-left text-soft">
          <th className="py-1 font-normal">Add-on</th>
          <th className="py-1 font-normal">is</th>
          <th className="py-1 font-normal">since this rule decides</th>
        </tr>
      </thead>
      <tbody>
        {decided.map((effect) => {
          const deciding = effect.rules.flatMap((id) => byId.get(id) ?? [])
          const part = effect.feature ?? effect.file ?? effect.setting
          return (
            <tr key={`${effect.addon} ${part ?? ''}`} className="border-b border-line/60 align-top">
              <td className="py-1">
                {names.get(effect.addon) ?? effect.addon}
                {part !== undefined && <span className="text-soft">, {part}</span>}
              </td>
              <td className="py-1">{effectWords(effect)}</td>
              <td className="py-1 text-soft">
                {deciding
                  .map((rule) => (rule.effect === 'keep' ? 'the exception ' : 'the one ') + placeWords(rule.place))
                  .join('; ')}
                {effect.conflictsWith.length > 0 && (
                  <span className="text-plum"> Another says something else with the same right.</span>
                )}
              </td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}

function byKind(pages: readonly Page[]): [string, Page[]][] {
  const groups = new Map<string, Page[]>()
  for (const page of pages) groups.set(page.kind, [...(groups.get(page.kind) ?? []), page])
  return [...groups]
}
