import { GIVING_YEARS, givingYears } from '../media/giving-years.js'
import { photographs } from '../media/photographs.js'
import { treePicture } from '../media/tree-picture.js'
import type { AddOnFile } from './add-on.js'
import { GeneratedStyles } from './generated-styles.js'
import { GluedFiles } from './glue.js'
import type { Installed } from './installed.js'
import type { LocalCopies } from './local-copies.js'
import type { MadeCopies } from './made-copies.js'
import { minified } from './minify.js'

/** Every file on the site's own hosts: of add-ons, glued, generated, copied from outside, and the pictures. */
export class OwnFiles {
  readonly glued = new GluedFiles((path) => this.ofAddOn(path))
  readonly generated: GeneratedStyles
  private byPath = new Map<string, AddOnFile>()
  private readonly pictures = new Map<number, Buffer>()

  constructor(
    private readonly installed: Installed,
    private readonly copies: LocalCopies,
    private readonly made: MadeCopies,
    /** Files of what is on trial at the moment. */
    private readonly onTrial: (path: string) => AddOnFile | undefined,
  ) {
    this.generated = new GeneratedStyles(
      (name) => installed.get('hollow').manifest.settings?.find((s) => s.slug === name)?.value ?? 0,
    )
    const index = () => {
      this.byPath = new Map(installed.addOns.flatMap(({ files }) => files.map((file) => [file.path, file] as const)))
    }
    installed.onChange(index)
    index()
  }

  get(path: string): Buffer | undefined {
    return (
      this.ofAddOn(path)?.body ??
      this.glued.get(path)?.body ??
      this.generated.get(path) ??
      this.copies.get(path) ??
      this.made.get(path) ??
      (path === GIVING_YEARS ? givingYears : this.picture(path)) ??
      this.onTrial(path)?.body
    )
  }

  private ofAddOn(path: string): AddOnFile | undefined {
    const file = this.byPath.get(path)
    return (
      file && { ...file, body: minified(file, this.installed.isOn('trim-press'), this.installed.isOn('leaf-press')) }
    )
  }

  private picture(path: string): Buffer | undefined {
    const photograph = photographs.get(path)
    if (photograph) return photograph
    const [, seed] = /^\/media\/tree-(\d{1,4})\.svg$/.exec(path) ?? []
    if (!seed) return undefined
    const drawn = this.pictures.get(Number(seed)) ?? Buffer.from(treePicture(Number(seed), 1280, 420))
    this.pictures.set(Number(seed), drawn)
    return drawn
  }
}
