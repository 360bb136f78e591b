import type { FaceUse } from '@unvelt/contract'
import { plural } from '../figures/format.js'

/** Typefaces that the site declares, against those it draws with anywhere. */
export function FaceTable({ faces }: { faces: FaceUse[] }) {
  if (faces.length === 0) return null
  const families = [...new Set(faces.map((face) => face.family))]
  const idle = faces.filter((face) => face.drawn === 0).length
  return (
    <section className="px-4 pt-6">
      <h2 className="text-[17px]">Typefaces</h2>
      <p className="text-soft">
        {plural(faces.length, 'typeface')} declared
        {idle > 0 ? `, ${idle} of them drawn on no page.` : ', each drawn on at least one page.'}
      </p>
      <table className="figures mt-2" aria-label="Typefaces">
        <thead>
          <tr className="border-b border-line text-left text-soft">
            <th className="py-1.5 pr-10 font-normal">Family</th>
            <th className="py-1.5 pr-10 font-normal">Weight</th>
            <th className="py-1.5 pr-10 text-right font-normal">Declared on</th>
            <th className="py-1.5 text-right font-normal">Drawn on</th>
          </tr>
        </thead>
        <tbody>
          {families.map((family) =>
            faces
              .filter((face) => face.family === family)
              .map((face, n) => (
                <tr key={`${family}${face.weight}${face.style}`} className="border-b border-line/60">
                  <td className="py-1.5 pr-10 font-semibold">{n === 0 ? family : ''}</td>
                  <td className="py-1.5 pr-10">
                    {face.weight} {face.style !== 'normal' && face.style}
                  </td>
                  <td className="py-1.5 pr-10 text-right">{plural(face.declared, 'page')}</td>
                  <td className="py-1.5 text-right">{face.drawn === 0 ? 'none' : plural(face.drawn, 'page')}</td>
                </tr>
              )),
          )}
        </tbody>
      </table>
    </section>
  )
}
