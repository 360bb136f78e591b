import { useMemo } from 'react'
import { shortestRules, type RuleInput, type ShortestRules, type Site } from '@unvelt/contract'
import { usePages } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { useDraft } from '../rules/use-draft.js'
import { placeWords } from '../rules/words.js'

interface ShorterRulesProps {
  site: Site
  /** What would be drafted for the selection as it stands: the same place for each add-on. */
  plain: RuleInput[]
}

/** Fewer rules that mean the same pages, beside the plain ones, both with what they would catch beside them. */
export function ShorterRules({ site, plain }: ShorterRulesProps) {
  const { data: pages } = usePages(site.id)
  const draft = useDraft(site.id)
  const place = plain[0]?.place
  const shorter = useMemo(() => {
    if (!pages || place?.level !== 'set') return null
    const selected = new Set(place.paths)
    const known = pages.map(({ path, kind, area }) => ({ path, kind, area: area === 'office' ? ('office' as const) : ('public' as const) })) // prettier-ignore
    const found = shortestRules(known, (n) => selected.has(known[n]!.path))
    return found.rules.every(({ place: { level } }) => level === 'set') ? null : found
  }, [pages, place])
  if (!shorter || place?.level !== 'set') return null
  return (
    <div role="group" aria-label="A shorter way" className="mt-3 border-t border-line pt-3 text-[13px]">
      <p>
        <b className="font-semibold">The same in fewer words:</b> {shorterWords(shorter)}, instead of{' '}
        {plural(place.paths.length, 'listed page')}.
      </p>
      <p className="mt-1 text-soft">{catchesWords(shorter)}</p>
      <Button
        className="mt-2"
        disabled={draft.isPending}
        onClick={() =>
          draft.add(
            plain.flatMap((rule) =>
              shorter.rules.map(({ place: where, keeps }) =>
                keeps ? { addon: rule.addon, effect: 'keep' as const, place: where } : { ...rule, place: where },
              ),
            ),
          )
        }
      >
        Leave out that way
      </Button>
    </div>
  )
}

function shorterWords({ rules }: ShortestRules): string {
  const where = (keeps: boolean) => rules.filter((rule) => rule.keeps === keeps).map(({ place }) => placeWords(place))
  const [takes, keeps] = [where(false), where(true)]
  return takes.join(' and ') + (keeps.length > 0 ? `, but kept ${keeps.join(' and ')}` : '')
}

/** What such rules hold for that nobody selected. */
function catchesWords({ catches: { later, office } }: ShortestRules): string {
  const toCome = later.anywhere
    ? 'every page that is yet to come'
    : [
        ...later.areas.map((area) =>
          area === 'public' ? 'public pages that are yet to come' : 'new pages of the back office',
        ),
        ...(later.kinds.length > 0 ? [`new pages of kind ${later.kinds.join(', ')}`] : []),
      ].join(', and ')
  const also = office ? ' The back office is among it.' : ' The back office is not touched.'
  return `It holds for ${toCome}, too; the list does not. Either holds for people who have signed in as well.${also}`
}
