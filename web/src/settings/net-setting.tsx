import { useState } from 'react'
import type { Net, Site } from '@unvelt/contract'
import { useChangeSite } from '../api/queries.js'
import { toast } from '../parts/toast.js'

const WAYS: Record<Net, { name: string; means: string }> = {
  'take-back': {
    name: 'Play its guards, and take it back where one fails',
    means: 'What broke it is looked for and set aside; the rest is drafted again.',
  },
  tell: { name: 'Play its guards, and tell', means: 'It stays live whatever fails.' },
  off: { name: 'Play no guards', means: 'Only that visitors get the new pages is checked.' },
}

/** What is done once a change is live. */
export function NetSetting({ site }: { site: Site }) {
  const change = useChangeSite(site.id)
  // What was pressed shows at once, and not only when the press has been sent.
  const [pressed, setPressed] = useState<Net | null>(null)
  const chosen = pressed ?? site.net
  const choose = (net: Net) => {
    setPressed(net)
    change.mutate({ net }, { onError: (error) => toast.error(error.message), onSettled: () => setPressed(null) })
  }
  return (
    <section className="px-4 pt-6" aria-label="Once a change is live">
      <h2 className="text-[17px]">Once a change is live</h2>
      <ul className="mt-1 grid gap-1">
        {(Object.keys(WAYS) as Net[]).map((net) => (
          <li key={net}>
            <label className="flex cursor-pointer items-baseline gap-2.5">
              <input type="radio" name="net" checked={chosen === net} onChange={() => choose(net)} />
              <span>
                {WAYS[net].name} <span className="text-[13px] text-soft">{WAYS[net].means}</span>
              </span>
            </label>
          </li>
        ))}
      </ul>
    </section>
  )
}
