import type { ReactNode } from 'react'

/** Fills a place that has nothing to show yet, or can't show it: says so in a sentence and offers the next move. */
export function Notice({ title, children, action }: { title: string; children?: ReactNode; action?: ReactNode }) {
  return (
    <div className="mx-auto mt-24 max-w-md px-6 text-center">
      <h2 className="text-xl">{title}</h2>
      {children && <div className="mt-2 text-soft">{children}</div>}
      {action && <div className="mt-5 flex justify-center gap-2">{action}</div>}
    </div>
  )
}

export function Failed({ error, retry }: { error: Error; retry?: () => void }) {
  return (
    <Notice
      title="This could not be shown"
      action={
        retry && (
          <button type="button" onClick={retry} className="text-verdigris underline underline-offset-2">
            Try again
          </button>
        )
      }
    >
      {error.message}
    </Notice>
  )
}

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="mt-24 text-center text-soft">
      Fetching {what} …
    </p>
  )
}
