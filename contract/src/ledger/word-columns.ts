import { IsString } from 'class-validator'

/** A word for each payer on each page, where there is one: half a million of them are as many letters. */
export class WordColumns {
  /** The words that occur. A letter stands for each: `a` for the first. */
  @IsString({ each: true }) words: string[]
  /** For each payer, in their order, a letter for each page, and `.` where it has no word; empty where it has none at all. */
  @IsString({ each: true }) rows: string[]
}

const NONE = '.'.charCodeAt(0)
const FIRST = 'a'.charCodeAt(0)

/** Puts words where they belong, to be sent as columns. */
export class WordColumnsMaker {
  private readonly codes: Uint8Array
  private readonly words: string[] = []
  private readonly codeOf = new Map<string, number>()

  constructor(
    private readonly payers: number,
    private readonly pages: number,
  ) {
    this.codes = new Uint8Array(payers * pages).fill(NONE)
  }

  /** By the indexes of payer and page. */
  put(payer: number, page: number, word: string): void {
    let code = this.codeOf.get(word)
    if (code === undefined) {
      code = FIRST + this.words.push(word) - 1
      this.codeOf.set(word, code)
    }
    this.codes[payer * this.pages + page] = code
  }

  made(): WordColumns {
    const letters = new TextDecoder()
    const rows = Array.from({ length: this.payers }, (_, payer) => {
      const row = this.codes.subarray(payer * this.pages, (payer + 1) * this.pages)
      return row.every((code) => code === NONE) ? '' : letters.decode(row)
    })
    return { words: this.words, rows }
  }
}

/** @returns undefined where the payer has no word on the page */
export const wordAt = ({ words, rows }: WordColumns, payer: number, page: number): string | undefined =>
  words[(rows[payer] ?? '').charCodeAt(page) - FIRST]
