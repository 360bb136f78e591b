/** What stands where a page was asked for and is not that page, so that nothing measured there is a figure of it. */
export const OTHER_PAGES = ['challenge', 'maintenance', 'log-in', 'error', 'other-language'] as const
export type OtherPage = (typeof OTHER_PAGES)[number]

/** What a visitor would judge by whether they are where they wanted to go. */
export interface PageSigns {
  /** HTTP status of the document; null where none is known. */
  status: number | null
  /** Headers of the document, names in small letters. */
  headers: Readonly<Record<string, string>>
  /** Paths with query: as asked for, and where the browser is in the end. */
  asked: string
  arrived: string
  title: string
  /** Headings and paragraphs that can be seen, in their order; a few. */
  texts: readonly string[]
  /** Characters of all that can be read on it. */
  textLength: number
  /** Of the document (`lang`), null where it says none. */
  language: string | null
  /** Its copies in other languages, by their paths (`rel=alternate hreflang`). */
  copies: readonly { language: string; path: string }[]
  /** Whether a field for a password can be seen. */
  asksPassword: boolean
  /** Addresses of frames and scripts. */
  loads: readonly string[]
}

/** What takes a page's place says little; a page that tells of firewalls or of maintenance says more. */
const LITTLE_TEXT = 1_200

/** In the languages that most sites are written in. */
const CHALLENGE =
  /\b(?:checking (?:your browser|if the site connection is secure)|(?:verify|confirm|prove)\w*(?: that)? you(?:’|')?(?: a)?re (?:not a robot|(?:a )?human)|are you (?:a robot|human)|not a robot|unusual traffic|complete the (?:security check|captcha)|attention required|überprüf\w+ (?:ihres|ihren|deines|deinen) browser|kein roboter|sind sie ein mensch|(?:no soy|no eres|que no es) un robot|(?:comprobando|verificando) (?:su|tu) navegador|vérifi\w+ (?:de )?(?:votre navigateur|que vous êtes humain)|pas un robot|não sou um robô|verificando (?:o )?seu navegador)/iu
const MAINTENANCE =
  /(?:^|\b)(?:(?:down|closed|offline|unavailable) for (?:scheduled |planned )?maintenance|(?:under|scheduled|planned|in) maintenance|maintenance mode|(?:we(?:’|')?ll|will) be (?:right )?back (?:soon|shortly)|briefly unavailable|wartungs(?:arbeiten|modus)|wird gerade gewartet|(?:en|modo) mantenimiento|en (?:cours de )?maintenance|em manutenção|in manutenzione)/iu
const ERROR =
  /^(?:(?:error|fehler|erreur|erro)[ :]*)?(?:404|410|50[0-4])\b|^(?:oops[!,. ]+)?(?:that |this |the )?page (?:not found|can(?:’|')?t be found|could not be found|does(?: not|n(?:’|')t) exist)|^not found$|^(?:internal server error|bad gateway|service unavailable|gateway time-?out)\b|^seite (?:wurde )?nicht gefunden|^page (?:introuvable|non trouvée)|^página no encontrada|^página não encontrada|^pagina non trovata/iu
const SIGN_IN = /(?:^|[/_.-])(?:log-?in|sign-?in|signon|auth|anmeld\w*|connexion|acceder|entrar|accedi)(?:[/_.?-]|$)/i
const CHALLENGED = /(?:^|[-_])(?:challenge|mitigated)(?:$|[-_])/i
const ASKS_FOR_PROOF = /(?:captcha|challenge)/i

/** What is in a page's place; null where nothing speaks against its being the page that was asked for. */
export function otherPage(signs: PageSigns): OtherPage | null {
  const { status, headers, title, texts, textLength } = signs
  const failed = status !== null && status >= 400
  const saysLittle = textLength <= LITTLE_TEXT
  const says = (words: RegExp, of: readonly string[]) => saysLittle && of.some((text) => words.test(text.trim()))
  const heads = [title, texts[0] ?? '']
  if (
    Object.keys(headers).some((name) => CHALLENGED.test(name)) ||
    says(CHALLENGE, [title, ...texts]) ||
    (failed && saysLittle && signs.loads.some((url) => ASKS_FOR_PROOF.test(url)))
  )
    return 'challenge'
  if ((status === 503 && 'retry-after' in headers) || says(MAINTENANCE, [title, ...texts])) return 'maintenance'
  if (isSignIn(signs)) return 'log-in'
  // A page may be about such an error, and then its address says so.
  if (!failed && says(ERROR, heads) && !/404|410|50\d|error|not-?found/i.test(signs.asked)) return 'error'
  return isOtherLanguage(signs) ? 'other-language' : null
}

/** Somebody who asked for another page was sent to where people sign in. */
function isSignIn({ asked, arrived, asksPassword }: PageSigns): boolean {
  const [from, to] = [pathOf(asked), pathOf(arrived)]
  if (!asksPassword || from === to || SIGN_IN.test(from)) return false
  return SIGN_IN.test(to) || decoded(arrived.slice(to.length)).includes(from)
}

/** Somebody was sent on to a copy of the page, which itself says that the one asked for is in another language. */
function isOtherLanguage({ asked, arrived, language, copies }: PageSigns): boolean {
  const [from, to] = [pathOf(asked), pathOf(arrived)]
  if (from === to || language === null) return false
  const meant = copies.find(({ path, language: of }) => pathOf(path) === from && of !== 'x-default')
  return meant !== undefined && primary(meant.language) !== primary(language)
}

const pathOf = (address: string) => address.replace(/[?#].*$/, '').replace(/(?<=.)\/$/, '')
const primary = (language: string) => language.toLowerCase().split('-')[0]

function decoded(text: string): string {
  try {
    return decodeURIComponent(text)
  } catch {
    return text
  }
}
