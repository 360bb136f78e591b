/**
 * The folder that a file of the site's own is told apart by where nobody says whose it is: two levels of folders, one
 * where there are not two, and a file at the top stands for itself.
 *
 * @param path of an address, with a leading slash.
 */
export function ownFolder(path: string): string {
  return /^\/[^/]+\/[^/]+\/(?=.)/.exec(path)?.[0] ?? /^\/[^/]+\/(?=.)/.exec(path)?.[0] ?? path
}
