import type { NowhereFile } from '@unvelt/contract'
import { address } from '../pages/request-list.js'
import { folderOf } from './nowhere-words.js'

/** A file by its name, with where it stands and why nothing is said of it. */
export const FileCell = ({ file }: { file: NowhereFile }) => (
  <span className="block min-w-56">
    <span className="font-semibold break-all">{address(file.url).file}</span>
    <span className="block text-[12.5px] break-all text-soft">
      {folderOf(file.url)}
      {!file.isOwn && ' · of another company, which only its owner can change'}
    </span>
    {file.why && <span className="block text-[12.5px] text-plum">{file.why}</span>}
  </span>
)
