import type { WeighedPage, WeighedVariant } from '@unvelt/contract'

/** The page under each variant, scrolled as one. */
export function SideBySide({
  id,
  page,
  variants,
}: {
  id: number
  page: WeighedPage
  variants: readonly WeighedVariant[]
}) {
  const shown = variants.flatMap((variant, n) => (page.looks[n]?.hasPicture ? [{ ...variant, n }] : []))
  if (shown.length === 0) return null
  return (
    <section aria-label="Side by side" className="mt-6">
      <h2 className="text-[17px]">Side by side</h2>
      <div
        tabIndex={0}
        role="group"
        aria-label="Pictures of the page"
        className="mt-1.5 max-h-[460px] overflow-auto border border-line"
      >
        <div className="grid gap-2 p-2" style={{ gridTemplateColumns: `repeat(${shown.length}, minmax(180px, 1fr))` }}>
          {shown.map(({ name, n }) => (
            <figure key={name} className="min-w-0">
              <figcaption className="sticky top-0 truncate bg-paper/95 py-0.5 text-[13px]" title={name}>
                {name}
              </figcaption>
              <img
                src={`/api/weigh-ins/${id}/pages/${page.page.id}/variants/${n}/picture`}
                alt={`The page: ${name}`}
                className="w-full border border-line/60"
              />
            </figure>
          ))}
        </div>
      </div>
    </section>
  )
}
