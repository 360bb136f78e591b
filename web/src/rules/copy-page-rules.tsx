import type { Page, RuleView, Site } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { toast } from '../parts/toast.js'
import { copied, ownRulesOf, type CopyTarget } from './copy-rules.js'
import { useDraft } from './use-draft.js'

interface Props {
  site: Site
  page: Page
  pages: readonly Page[]
  rules: readonly RuleView[]
}

/** Drafts the rules that were made for a page for another one, or for a whole kind. */
export function CopyPageRules({ site, page, pages, rules }: Props) {
  const draft = useDraft(site.id)
  const own = ownRulesOf(rules, page).length
  if (own === 0) return null
  const kinds = [...new Set(pages.map(({ kind }) => kind))].sort()
  const copyTo = (target: CopyTarget) => {
    const { rules: fresh, there } = copied(rules, page, target)
    if (fresh.length > 0) draft.add(fresh)
    if (there > 0) toast(`${plural(there, 'rule')} ${there === 1 ? 'says' : 'say'} the same there already.`)
  }
  return (
    <div className="mt-3 flex items-center gap-2">
      Copy the {plural(own, 'rule')} made for this page
      <select
        value=""
        disabled={draft.isPending}
        aria-label="Copy its rules"
        onChange={({ target: { value } }) => {
          const other = pages.find(({ id }) => `page ${id}` === value)
          copyTo(other ? { page: other } : { kind: value.slice('kind '.length) })
        }}
        className="h-8 w-72 border border-line bg-sheet px-2"
      >
        <option value="" disabled>
          to …
        </option>
        <optgroup label="A kind of pages">
          {kinds.map((kind) => (
            <option key={kind} value={`kind ${kind}`}>
              every page of kind {kind}
            </option>
          ))}
        </optgroup>
        <optgroup label="A page">
          {pages
            .filter(({ id }) => id !== page.id)
            .map(({ id, title, path }) => (
              <option key={id} value={`page ${id}`}>
                {title} ({path})
              </option>
            ))}
        </optgroup>
      </select>
    </div>
  )
}
