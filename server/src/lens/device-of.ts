import { LensRow, visitOf } from './lens.model.js'

/** Which device's rules hold through a lens, as its visits say themselves. */
export async function deviceOf(lensId: number | null): Promise<'desk' | 'handset'> {
  const lens = lensId === null ? null : await LensRow.findByPk(lensId, { paranoid: false })
  return lens ? visitOf(lens).device : 'desk'
}
