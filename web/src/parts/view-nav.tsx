import type { ReactNode } from 'react'
import { Link, useSearchParams } from 'react-router'

interface ViewNavProps<Key extends string> {
  label: string
  /** The first is shown where the address names none. */
  views: readonly { key: Key; name: string; more?: ReactNode }[]
  shown: Key
}

/** The views of a place, one beside the other. Which one is shown stands in the address. */
export function ViewNav<Key extends string>({ label, views, shown }: ViewNavProps<Key>) {
  const [search] = useSearchParams()
  return (
    <nav aria-label={label} className="flex gap-5 border-b border-line px-4">
      {views.map(({ key, name, more }, index) => {
        const to = new URLSearchParams(search)
        if (index === 0) to.delete('view')
        else to.set('view', key)
        return (
          <Link
            key={key}
            to={{ search: to.toString() }}
            aria-current={key === shown ? 'page' : undefined}
            className="border-b-2 border-transparent py-1.5 text-soft hover:text-ink aria-[current]:border-verdigris aria-[current]:font-semibold aria-[current]:text-ink"
          >
            {name} {more}
          </Link>
        )
      })}
    </nav>
  )
}
