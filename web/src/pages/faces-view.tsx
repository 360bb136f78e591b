import type { FontView } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { Notice } from '../parts/notice.js'

/** The typefaces that the page declares, against those it draws with. */
export function FacesView({ fonts }: { fonts: FontView[] }) {
  if (fonts.length === 0)
    return <Notice title="The page declares no typefaces">It draws with those of the system.</Notice>
  const families = [...new Set(fonts.map((font) => font.family))].sort((a, b) => a.localeCompare(b))
  return (
    <section className="px-4 py-3">
      <p className="text-soft">
        {plural(fonts.length, 'typeface')} declared, {fonts.filter((font) => font.drawn).length} drawn on this page.
      </p>
      <table className="mt-3" aria-label="Typefaces">
        <thead>
          <tr className="border-b border-line text-left text-soft">
            <th className="py-1.5 pr-10 font-normal">Family</th>
            <th className="py-1.5 font-normal">Weights</th>
          </tr>
        </thead>
        <tbody>
          {families.map((family) => (
            <tr key={family} className="border-b border-line/60">
              <th className="py-2 pr-10 text-left font-semibold">{family}</th>
              <td className="py-2">
                <ul className="flex flex-wrap gap-2">
                  {fonts
                    .filter((font) => font.family === family)
                    .map(({ weight, style, drawn }) => (
                      <li
                        key={`${weight} ${style}`}
                        className={
                          drawn
                            ? 'border border-ink px-2 py-0.5 font-semibold'
                            : 'border border-dashed border-line px-2 py-0.5 text-soft'
                        }
                      >
                        {weight}
                        {style !== 'normal' && ` ${style}`}
                        {!drawn && ', not drawn'}
                      </li>
                    ))}
                </ul>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
