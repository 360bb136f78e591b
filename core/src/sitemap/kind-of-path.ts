/**
 * What kind of page an address is of, where nobody tells: pages that share their first folder are of that folder's kind.
 * The front page and those that share with no other are plain pages.
 *
 * @param paths of all pages, with a leading slash.
 * @returns the kinds, in the same order.
 */
export function kindsOfPaths(paths: readonly string[]): string[] {
  const folders = paths.map((path) => /^\/([^/?]+)\/[^?]/.exec(path)?.[1] ?? null)
  const count = new Map<string, number>()
  for (const folder of folders) if (folder !== null) count.set(folder, (count.get(folder) ?? 0) + 1)
  return folders.map((folder) => (folder !== null && count.get(folder)! > 1 ? readable(folder) : 'page'))
}

const readable = (folder: string) => {
  try {
    return decodeURIComponent(folder).slice(0, 60)
  } catch {
    return folder.slice(0, 60)
  }
}
