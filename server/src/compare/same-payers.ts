import { ownFolderPayer, type SweptCells } from '@unvelt/core'

/** Whose what is at a site, as its connector tells: address prefixes of add-ons, and files by address. */
export interface Register {
  folders: readonly { prefix: string; payer: string }[]
  assetRegister: Readonly<Record<string, string>>
}

const FOLDER = ownFolderPayer('')

/**
 * What a copy without a connector is charged by folder, charged to whom all that is known below the folder belongs at the site
 * that it is a copy of, so that the two know an add-on by one name.
 */
export function asAtOriginal(cells: SweptCells, { folders, assetRegister }: Register): SweptCells {
  const prefixes = new Map(folders.map(({ prefix, payer }) => [pathOf(prefix), payer]))
  const files = Object.entries(assetRegister).map(([address, payer]) => [pathOf(address), payer] as const)
  const ownerOf = (folder: string): string | undefined => {
    const told = prefixes.get(folder)
    if (told !== undefined) return told
    const owners = new Set(files.flatMap(([path, payer]) => (path.startsWith(folder) ? [payer] : [])))
    return owners.size === 1 ? [...owners][0] : undefined
  }
  const named = (payer: string) => (payer.startsWith(FOLDER) ? ownerOf(payer.slice(FOLDER.length)) : undefined) ?? payer
  return { ...cells, payers: cells.payers.map(named) }
}

const pathOf = (address: string) => (URL.canParse(address) ? new URL(address).pathname : address)
