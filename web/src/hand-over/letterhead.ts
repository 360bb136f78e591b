/** Who hands something over, to whom. */
export interface Letterhead {
  from: string
  /** A picture as a data address; empty for none. */
  mark: string
  to: string
}

export const NO_LETTERHEAD: Letterhead = { from: '', mark: '', to: '' }
const MOST_MARK_BYTES = 300_000
const KINDS = ['image/png', 'image/jpeg', 'image/webp', 'image/svg+xml']

/** @throws Error with what was expected. */
export async function markOf(file: File): Promise<string> {
  if (!KINDS.includes(file.type)) throw new Error(`${file.name} is no PNG, JPEG, WebP or SVG picture.`)
  if (file.size > MOST_MARK_BYTES) throw new Error(`${file.name} is larger than 300 KB.`)
  return new Promise((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(reader.result as string)
    reader.onerror = () => reject(new Error(`${file.name} can’t be read.`))
    reader.readAsDataURL(file)
  })
}
