const WIDE = /[^\0-\xff]/
const FIRST_SIZE = 1 << 12

/**
 * The characters of a growing text as numbers: a loop over an array's numbers is several times faster than one that asks the
 * text for each character, and what has been turned into numbers once is not turned again when more comes. Behind the text
 * there is always a 0, so that a loop may look one beyond.
 */
export class CharacterCodes {
  codes: Uint8Array | Uint16Array = new Uint8Array(FIRST_SIZE)
  size = 0

  /** More text. Once a character beyond Latin-1 comes, all numbers are wide. */
  add(text: string): void {
    const { length } = text
    const needed = this.size + length + 1
    // For text that came as bytes the engine knows at once that there is nothing to find.
    const wide = this.codes.BYTES_PER_ELEMENT === 2 || WIDE.test(text)
    if (needed > this.codes.length || (wide && this.codes.BYTES_PER_ELEMENT === 1)) this.grow(needed, wide)
    const { codes, size } = this
    if (!wide && globalThis.Buffer) Buffer.from(codes.buffer, codes.byteOffset + size, length).write(text, 'latin1')
    else for (let i = 0; i < length; i++) codes[size + i] = text.charCodeAt(i)
    this.size += length
    codes[this.size] = 0
  }

  /** Drops what stands before a place. */
  forget(before: number): void {
    if (before === 0) return
    this.codes.copyWithin(0, before, this.size + 1)
    this.size -= before
  }

  private grow(needed: number, wide: boolean): void {
    const size = needed > this.codes.length ? 2 * needed : this.codes.length
    const grown = wide ? new Uint16Array(size) : new Uint8Array(size)
    grown.set(this.codes.subarray(0, this.size))
    this.codes = grown
  }
}
