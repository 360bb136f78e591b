/** Something to press, and where it is on the page (CSS). */
export interface ConsentControl {
  selector: string
  name: string
  /** What has to be pressed before it is there. */
  first?: { selector: string; name: string }
  /** Switches that have to be off before it is pressed (CSS), since they are on when they come into sight. */
  off?: string[]
}

/** A part of a page that lies over it and has something to press. */
export interface BannerCandidate {
  selector: string
  text: string
  /** A link to another page leads away. */
  controls: readonly (ConsentControl & { leadsAway?: boolean })[]
  /** What can be switched in it: what is on that could be off (CSS), and how many there are at all. */
  switches?: { on: string[]; all: number }
}

/** By what a site asks its visitors whether they agree to being followed. */
export interface ConsentBanner {
  selector: string
  /** What it says. */
  text: string
  agree: ConsentControl
  /** Null where it can be refused by no press of its own. */
  refuse: ConsentControl | null
  /** What leads to more to answer by, where nothing refuses at once; null where nothing does. */
  more: ConsentControl | null
}

/** What such a banner speaks of, in the languages that browsers of its visitors are mostly set to. */
const ABOUT =
  /cookie|consent|privacy|personal data|tracking|datenschutz|einwillig|confidentialit|vie privée|données|privacidad|datos|informativa|riservatezza|toestemming|samtycke|zgod[ay]|prywatno/i
const REFUSES =
  /\b(reject|refuse|decline|deny|disagree)\b|\b(necessary|essential|required)( ones| cookies)? only\b|\bonly (the )?(necessary|essential|required)|\bno,? thanks?\b|do(es)? not (accept|agree|allow|consent)|don.?t (accept|agree|allow|consent)|without (accepting|agreeing)|ablehn|nur (das )?(notwendig|erforderlich|nötig)|nicht (zustimm|akzept|einverstanden)|refuser|sans accepter|rechaz|no acepto|rifiut|non accett|weiger|alleen (de )?noodzakelijk|avvisa|endast nödvändiga|odrzu/i
const AGREES =
  /\b(accept|agree|allow|consent)(s|ing)?\b|^(ok|okay|got it|yes|i understand|understood|fine)\b|akzept|zustimm|einverstanden|erlaub|accepte|d.accord|acept|accett|akkoord|toestaan|toesta|godkänn|zgadzam|akceptuj/i
/** What opens the rest of such a question. */
const LEADS_ON =
  /\b(settings?|preferences|options|choices|customi[sz]e|manage|configure|more choices|let me choose)\b|einstell|auswahl|anpass|paramètres|personnaliser|gérer|configura|gestion|ajustes|preferenz|personalizza|instelling|voorkeur|inställning|anpassa|ustawien/i
/** What keeps the choices as they stand. */
const SAVES =
  /\b(save|confirm|apply|submit)\b|speicher|bestätig|übernehm|enregistrer|confirmer|valider|guardar|confirmar|salva|conferma|opslaan|bevestig|spara|bekräfta|zapisz|potwierd/i
/** A form with more than so many switched on is no banner that anybody answers. */
const MOST_ON = 60
const ALL = /\b(all|everything|alle[ns]?|tout|todo|todas|tutti|tutto|alla|wszystk)/i

/**
 * The banner among what lies over a page: it speaks of cookies, consent or the like, and has something to press that agrees. Of banners
 * within each other the one that says least is it. Null where none does.
 */
export function consentBannerIn(candidates: readonly BannerCandidate[]): ConsentBanner | null {
  const banners = candidates.flatMap((candidate): ConsentBanner[] => {
    const { selector, text, controls } = candidate
    if (!ABOUT.test(text)) return []
    const refusing = controls.filter(({ name }) => REFUSES.test(name))
    const agreeing = controls.filter(({ name }) => !REFUSES.test(name) && AGREES.test(name))
    const agree = agreeing.find(({ name }) => ALL.test(name)) ?? agreeing[0]
    if (!agree) return []
    const refuse = refusing[0] ?? null
    const more = refuse
      ? undefined
      : controls.find((control) => control !== agree && !control.leadsAway && LEADS_ON.test(control.name))
    return [{ selector, text, agree: plain(agree), refuse: refuse && plain(refuse), more: more ? plain(more) : null }]
  })
  return banners.reduce<ConsentBanner | null>(
    (least, one) => (least === null || one.text.length < least.text.length ? one : least),
    null,
  )
}

const plain = ({ selector, name }: ConsentControl): ConsentControl => ({ selector, name })

/**
 * What refuses among all that lies over a page, once more of the question was opened; null where nothing does. Where nothing says so,
 * whoever keeps choices of which none is switched on refuses as well; what is on has to be switched off before.
 */
export function refusalIn(candidates: readonly BannerCandidate[]): ConsentControl | null {
  const asking = candidates.filter(({ text }) => ABOUT.test(text))
  const refusing = asking.flatMap(({ controls }) => controls.filter(({ name }) => REFUSES.test(name)))
  const saving = asking.flatMap(({ controls, switches }) =>
    switches && switches.all > 0 && switches.on.length <= MOST_ON
      ? controls
          .filter(({ name, leadsAway }) => !leadsAway && SAVES.test(name) && !ALL.test(name))
          .map((control) => ({ ...plain(control), ...(switches.on.length > 0 && { off: switches.on }) }))
      : [],
  )
  const [refusal] = [...refusing.filter(({ name }) => ALL.test(name)), ...refusing].map(plain)
  // Of parts within each other the one is meant that has the fewest switches.
  return refusal ?? saving.sort((a, b) => (a.off?.length ?? 0) - (b.off?.length ?? 0))[0] ?? null
}
