import type { Line } from './lines.js'

/** What a row is called. */
export const nameOf = (line: Line): string => {
  switch (line.type) {
    case 'group':
      return line.name
    case 'payer':
      return line.payer.name
    case 'feature':
      return line.feature.name
    case 'file':
      return fileName(line.file.url)
    case 'wait':
      return 'Fetching files …'
  }
}

/** The last part of an address, which is what people know a file by; the host where there is none. */
export function fileName(url: string): string {
  if (!URL.canParse(url)) return url
  const { pathname, host } = new URL(url)
  return pathname.split('/').filter(Boolean).at(-1) ?? host
}
