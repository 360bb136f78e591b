/** What is being worked out is worked out once, however many ask for it meanwhile. */
export class Once {
  private readonly underWay = new Map<string, Promise<unknown>>()

  run<T>(key: string, make: () => Promise<T>): Promise<T> {
    const known = this.underWay.get(key)
    if (known) return known as Promise<T>
    const made = make().finally(() => this.underWay.delete(key))
    this.underWay.set(key, made)
    return made
  }
}
