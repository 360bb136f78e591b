import type { RehearsedPage } from '@unvelt/contract'

/** What was to be seen where steps failed. */
export function FailedSteps({ rehearsal, page }: { rehearsal: number; page: RehearsedPage }) {
  if (page.failedSteps.length === 0) return null
  return (
    <ul aria-label="Where steps failed" className="flex flex-wrap gap-3 pt-1.5 pl-6.5">
      {page.failedSteps.map((step) => {
        const address = `/api/rehearsals/${rehearsal}/pictures/${page.pageId}/${page.lensId}/failed-step?${new URLSearchParams({ step })}`
        return (
          <li key={step} className="w-56 text-[13px]">
            <a
              href={address}
              target="_blank"
              rel="noreferrer"
              className="block border border-line hover:border-verdigris"
            >
              <img src={address} alt={`What was to be seen where “${step}” failed`} className="block w-full" />
            </a>
            <span className="text-soft">{step}</span>
          </li>
        )
      })}
    </ul>
  )
}
