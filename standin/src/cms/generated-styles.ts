/** Styles that the theme makes from its settings, kept until this cache is purged, whatever was set meanwhile. */
export class GeneratedStyles {
  private readonly made = new Map<string, Buffer>()

  constructor(private readonly setting: (name: string) => number) {}

  get(path: string): Buffer | undefined {
    if (path !== GENERATED_STYLE) return undefined
    const known = this.made.get(path)
    if (known) return known
    const radius = this.setting('corner-radius')
    const width = this.setting('text-width')
    const body = Buffer.from(
      `button,input,select,textarea,.card{border-radius:${radius}px}\nmain{max-width:${width}rem}\n`,
    )
    this.made.set(path, body)
    return body
  }

  purge(): number {
    const { size } = this.made
    this.made.clear()
    return size
  }
}

export const GENERATED_STYLE = '/generated/hollow.css'
