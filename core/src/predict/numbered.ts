/** Words, each by its number. */
export class Numbered {
  private readonly numbers = new Map<string, number>()
  readonly names: string[] = []

  numberOf(name: string): number {
    let number = this.numbers.get(name)
    if (number === undefined) {
      number = this.names.push(name) - 1
      this.numbers.set(name, number)
    }
    return number
  }

  known(name: string): number | undefined {
    return this.numbers.get(name)
  }
}
