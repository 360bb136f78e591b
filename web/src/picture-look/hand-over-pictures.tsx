import { useMutation } from '@tanstack/react-query'
import type { LookedAtPicture } from '@unvelt/contract'
import { callBytes } from '../api/client.js'
import { pictureAddress } from '../api/pictures.js'
import { Button } from '../parts/button.js'
import { download } from '../parts/download.js'
import { toast } from '../parts/toast.js'
import { downloadName } from './picture-pair.js'

/** A picture of a look, and where it is to be had. */
export interface ChosenPicture {
  pageId: number
  lookId: number
  n: number
  picture: LookedAtPicture
  /** What else the table tells of it. */
  more?: Record<string, number | string>
}

/** The re-made pictures as a folder laid out like the site's own, with a table of what each spares. */
export function HandOverPictures({ siteId, pictures }: { siteId: number; pictures: ChosenPicture[] }) {
  const pack = useMutation({
    mutationFn: async () => {
      const [{ strToU8, zipSync }, { stringify }] = await Promise.all([
        import('fflate'),
        import('csv-stringify/browser/esm/sync'),
      ])
      const chosen = pictures.flatMap((one) => (one.picture.remade[0] ? [{ ...one, made: one.picture.remade[0] }] : []))
      const files: Record<string, Uint8Array> = {}
      const rows = []
      for (const { pageId, lookId, picture, n, made, more } of chosen) {
        const address = pictureAddress(siteId, pageId, lookId, n, made.as).replace(/^\/api/, '')
        const { host, pathname } = new URL(picture.url)
        const folder = safe(`${host.replace(':', '-')}${pathname.slice(0, pathname.lastIndexOf('/') + 1)}`)
        const name = unused(files, `pictures/${folder}`, safe(downloadName(picture, made)))
        files[name] = new Uint8Array(await callBytes(address))
        rows.push({
          address: picture.url,
          file: name,
          'bytes now': picture.bytes,
          'bytes then': made.bytes,
          spared: picture.bytes - made.bytes,
          'width now': picture.fileWidth,
          'height now': picture.fileHeight,
          'width then': picture.neededWidth,
          'height then': picture.neededHeight,
          likeness: made.similarity,
          ...more,
        })
      }
      files['pictures.csv'] = strToU8(stringify(rows, { header: true, bom: true, escape_formulas: true }))
      return new Blob([zipSync(files, { level: 0 }) as Uint8Array<ArrayBuffer>], { type: 'application/zip' })
    },
    onSuccess: (folder) => download('pictures.zip', folder),
    onError: (error) => toast.error('They could not be packed', { description: error.message }),
  })
  return (
    <Button disabled={pack.isPending || pictures.length === 0} onClick={() => pack.mutate()}>
      {pack.isPending ? 'Packing …' : 'Save those made anew'}
    </Button>
  )
}

/** A path within the folder, whatever an address says. */
const safe = (path: string): string =>
  path
    .split('/')
    .filter((part) => part !== '' && part !== '.' && part !== '..')
    .map((part) => part.replace(/[^\w.-]+/g, '_'))
    .join('/')

function unused(files: Record<string, unknown>, folder: string, name: string): string {
  const path = `${folder}/${name}`
  if (!Object.hasOwn(files, path)) return path
  for (let n = 2; ; n++) {
    const other = `${folder}/${n}-${name}`
    if (!Object.hasOwn(files, other)) return other
  }
}
