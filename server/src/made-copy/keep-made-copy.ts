import { createHash } from 'node:crypto'
import { promisify } from 'node:util'
import { brotliCompress, brotliDecompress } from 'node:zlib'
import { MadeCopyRow } from './made-copy.model.js'

const squeeze = promisify(brotliCompress)
const unsqueeze = promisify(brotliDecompress)

/** As Subresource Integrity writes a hash (SRI, section 3.1). */
export const hashOf = (bytes: Buffer | string): string =>
  `sha384-${createHash('sha384').update(bytes).digest('base64')}`

export type MadeCopy = Omit<MadeCopyRow['dataValues'], 'content' | 'body' | 'madeAt'> & { text: string }

/** Keeps a copy that was made; one of the same content that there is already stays. */
export async function keepMadeCopy({ text, ...copy }: MadeCopy): Promise<MadeCopyRow> {
  const [row] = await MadeCopyRow.findOrCreate({
    where: { siteId: copy.siteId, content: hashOf(text), file: copy.file },
    defaults: { ...copy, content: hashOf(text), body: await squeeze(Buffer.from(text)) },
  })
  return row
}

export const textOf = async ({ body }: MadeCopyRow): Promise<string> => (await unsqueeze(body)).toString('utf8')
