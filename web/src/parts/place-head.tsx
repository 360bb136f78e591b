import type { ReactNode } from 'react'

/** The heading of a place: its name, a sentence on what it shows, and what can be done there. */
export function PlaceHead({ title, children, action }: { title: string; children?: ReactNode; action?: ReactNode }) {
  return (
    <div className="flex items-end justify-between gap-6 border-b border-line px-4 pt-4 pb-3 max-md:flex-wrap max-md:gap-y-2">
      <div>
        <h1 className="text-[22px]">{title}</h1>
        {children && <p className="mt-0.5 text-soft">{children}</p>}
      </div>
      {action}
    </div>
  )
}
