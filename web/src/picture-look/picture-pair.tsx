import { useState } from 'react'
import type { LookedAtPicture, RemadePicture } from '@unvelt/contract'
import { pictureAddress } from '../api/pictures.js'
import { bytes } from '../figures/format.js'
import { Window } from '../parts/window.js'
import { fileName, formatName, remadeName, size } from './picture-words.js'

interface Props {
  siteId: number
  pageId: number
  lookId: number
  n: number
  picture: LookedAtPicture
  onClose(): void
}

/** A picture as it is beside what it was made into, so that whoever decides has seen it. */
export function PicturePair({ siteId, pageId, lookId, n, picture, onClose }: Props) {
  const [shown, setShown] = useState<RemadePicture>(picture.remade[0]!)
  const address = (as: string) => pictureAddress(siteId, pageId, lookId, n, as)
  return (
    <Window title={fileName(picture.url)} width={1100} onClose={onClose}>
      <div role="group" aria-label="Made into" className="mt-2 flex flex-wrap gap-4">
        {picture.remade.map((one) => (
          <label key={one.as} className="flex items-center gap-1.5">
            <input
              type="radio"
              name="remade"
              checked={shown === one}
              onChange={() => setShown(one)}
              className="accent-verdigris"
            />
            {remadeName(one, picture)}, {bytes(one.bytes)}
          </label>
        ))}
      </div>
      <div className="mt-3 grid grid-cols-2 gap-4">
        <figure className="min-w-0">
          <figcaption className="mb-1 text-soft">
            As it is: {formatName(picture.format)}, {size(picture.fileWidth, picture.fileHeight)},{' '}
            {bytes(picture.bytes)}
          </figcaption>
          <img src={address('was')} alt="As it is" className="max-h-[60vh] w-full bg-line/30 object-contain" />
        </figure>
        <figure className="min-w-0">
          <figcaption className="mb-1 text-soft">
            Made anew: {remadeName(shown, picture)}, {size(picture.neededWidth, picture.neededHeight)},{' '}
            {bytes(shown.bytes)},{picture.format !== 'svg' && ` quality ${shown.quality},`} likeness{' '}
            {shown.similarity.toFixed(3)}
          </figcaption>
          <img src={address(shown.as)} alt="Made anew" className="max-h-[60vh] w-full bg-line/30 object-contain" />
        </figure>
      </div>
      <p className="mt-3 text-[13px] text-soft">
        <a href={address(shown.as)} download={downloadName(picture, shown)} className="text-verdigris underline">
          Save the picture that was made anew
        </a>
      </p>
    </Window>
  )
}

const ENDINGS: Record<string, string> = { jpeg: 'jpg' }
/** The file's own name, with the ending of what it is now. */
export function downloadName(picture: LookedAtPicture, { as }: RemadePicture): string {
  const format = as === 'same' ? picture.format : as
  return `${fileName(picture.url).replace(/\.[a-z0-9]{2,5}$/i, '')}.${ENDINGS[format] ?? format}`
}
