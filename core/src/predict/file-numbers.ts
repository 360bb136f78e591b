import { canonicalAddress } from '../attribution/canonical.js'
import { fileNames } from '../rewrite/stop-list.js'
import { Numbered } from './numbered.js'
import type { Saying } from './said.js'

/** Files of payers, each by its number: one address that two payers are charged with is two files. */
export class FileNumbers {
  private readonly urls = new Numbered()
  /** Of each payer the numbers of its files by their addresses' numbers; and of each file its address. */
  private readonly byPayer: Map<number, number>[] = []
  private readonly urlOf: number[] = []
  private readonly names = new Map<number, string[]>()

  get count(): number {
    return this.urlOf.length
  }

  numberOf(payer: number, url: string): number {
    const files = (this.byPayer[payer] ??= new Map<number, number>())
    const at = this.urls.numberOf(url)
    let file = files.get(at)
    if (file === undefined) {
      file = this.urlOf.push(at) - 1
      files.set(at, file)
    }
    return file
  }

  address(file: number): string {
    return this.urls.names[this.urlOf[file]!]!
  }

  /** Those of a payer's files of which something is said, by any of their names. */
  *said(payer: number, sayings: ReadonlyMap<string, Saying>): Generator<[file: number, saying: Saying]> {
    for (const [url, file] of this.byPayer[payer] ?? []) {
      const saying = this.namesOf(url).flatMap((name) => sayings.get(name) ?? [])[0]
      if (saying) yield [file, saying]
    }
  }

  /** Whose the host is doesn't matter here: the payer is known already. */
  private namesOf(url: number): string[] {
    const known = this.names.get(url)
    if (known) return known
    const address = this.urls.names[url]!
    const names = URL.canParse(address) ? fileNames(new URL(canonicalAddress(new URL(address))), true) : []
    this.names.set(url, names)
    return names
  }
}
