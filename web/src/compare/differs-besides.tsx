import type { Comparison } from '@unvelt/contract'
import { besides } from './besides.js'

/** What makes the two differ besides time: whoever reads the figures has to know. */
export function DiffersBesides({ comparison }: { comparison: Comparison }) {
  const said = besides(comparison)
  return (
    <p aria-label="What differs besides" className="border-b border-line px-4 py-2 text-[14px]">
      {said.length === 0 ? (
        <span className="text-soft">Same site, lens, repeats and rules: what differs is the site’s own doing.</span>
      ) : (
        <>
          <span className="text-plum">Not alike besides: </span>
          {said.join('; ')}.
        </>
      )}
    </p>
  )
}
