const WIDE = /[^\0-\xff]/

/**
 * The characters of a text as numbers, in an array that is used again for each text: a loop over an array's numbers is
 * several times faster than one that asks the text for each character. Holds at least one number more than the text has,
 * always 0, so that a loop may look one beyond.
 */
export class CharacterCodes {
  private bytes = new Uint8Array(0)

  of(text: string): Uint8Array | Uint16Array {
    const { length } = text
    // For text that came as bytes the engine knows at once that there is nothing to find.
    if (WIDE.test(text)) {
      const wide = new Uint16Array(length + 1)
      for (let i = 0; i < length; i++) wide[i] = text.charCodeAt(i)
      return wide
    }
    if (this.bytes.length <= length) this.bytes = new Uint8Array(2 * length + 64)
    const { bytes } = this
    if (globalThis.Buffer) Buffer.from(bytes.buffer).write(text, 'latin1')
    else for (let i = 0; i < length; i++) bytes[i] = text.charCodeAt(i)
    bytes[length] = 0
    return bytes
  }
}
