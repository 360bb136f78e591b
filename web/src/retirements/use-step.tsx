import { Link } from 'react-router'
import { plural } from '../figures/format.js'
import type { StepProps } from './step-list.js'

/** Where it is still used, as far as anybody knows. */
export function UseStep({ siteId, sheet }: StepProps) {
  if (sheet.wasGone) return null
  if (sheet.features)
    return (
      <p className="text-[13.5px] text-soft">
        By the site’s own word no content uses any of these {sheet.features.length}:{' '}
        {sheet.features.map(({ name }) => name).join(', ')}.
      </p>
    )
  const used = sheet.worklist.filter(({ done }) => !done)
  return (
    <p className="text-[13.5px] text-soft">
      {used.length === 0
        ? 'Seen in use on no page. '
        : `In use on ${plural(used.length, 'page')}, to be changed below. `}
      {sheet.useNotKnown > 0 &&
        sheet.isActive &&
        `On ${plural(sheet.useNotKnown, 'page')} nobody knows; what its owner says decides. `}
      {sheet.needs.length > 0 && `It needs ${sheet.needs.join(', ')}. `}
      <Link
        to={`/sites/${siteId}/add-ons/${encodeURIComponent(sheet.slug)}`}
        className="text-verdigris hover:underline"
      >
        Page by page
      </Link>
    </p>
  )
}
