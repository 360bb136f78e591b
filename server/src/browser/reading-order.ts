import type { ConsentBanner, GuardLook, PageOffers, RewritePlan, Step } from '@unvelt/core'
import type { LensSettings } from '../lens/lens-settings.js'
import type { Reach } from '../reach/reach.js'
import type { Blocked } from './blocked.js'
import type { Frame } from './film.js'
import type { HeaderOnward } from './onward-headers.js'
import type { ReadingLimits } from './limits.js'
import type { Picture } from './take-picture.js'

/** What is to be read, and how. */
export interface ReadingOrder {
  url: string
  /** Hosts of the site, with ports where they have one; a page that leads to any other is none of it. */
  ownHosts?: string[]
  lens: LensSettings
  /** Sent with the page's own request, and with no other. A function gives it when the request is about to go. */
  measuringHeader?: string | (() => string)
  /** Ties what the site tells of its own work to this reading (W3C Trace Context); sent with the measuring header. */
  trace?: { traceId: string; traceparent: string } | undefined
  /** Cookies that sign the visitor in, as `Cookie` has them. */
  cookie?: string | null
  limits?: ReadingLimits
  /** Leaves out what slows the page: which code and styles are used is not looked at. */
  clean?: boolean
  /**
   * Its times are not looked at. Then processor and network are not slowed, which would only hold up others beside it, and
   * what the main thread does is not noted.
   */
  untimed?: boolean
  /** Is given what was painted while the page loaded, with the moment of the navigation, ms since 1970. Such a reading gives no times. */
  onFilm?: (frames: Frame[], begunAt: number) => void
  /** What is done on the page after its timing; nothing without it. */
  steps?: readonly Step[]
  /** Headers for what steps set off. With them, a step that leads away is followed by the next one, back on the page. */
  onward?: HeaderOnward
  /** Hosts that it may not ask. */
  blocked?: Blocked
  /** Has Playwright's own recorder write a HAR file of the same load, to hold against the reading. */
  recordHarTo?: string
  /** Is called once the load is over and all its figures are taken, before the steps; never without steps. */
  onLoaded?: () => void
  /** Is given a picture of the page, where steps are taken. */
  onPicture?: (picture: Picture) => void
  /** Gives it another one a moment later where something has moved by then. */
  laterPicture?: boolean
  /** Is given what was to be seen where a step failed. */
  onFailedStep?: (name: string, picture: Picture) => void
  /** Passes the document through core's rewriter; gives what to do by the address where it is, or null for nothing. */
  rewrite?: (url: URL) => RewritePlan | null
  /** With `rewrite`: is given the document as it came, a character for each byte, and where it is. */
  onDocument?: (html: string, url: string) => void
  /** With `rewrite`: the document that the browser gets in the place of the one that came, a character for each byte, and under no policy. */
  document?: string
  /** Is given what guards compare, once the steps are over. */
  onLook?: (look: GuardLook) => void
  /** What guards compare is to have the page's short texts as well, before the steps and after each. */
  texts?: boolean
  /** Is given what the page has for its visitors to do, before any step. */
  onOffers?: (offers: PageOffers) => void
  /** Is given by what the page asks for consent once it has loaded; null where it does not. */
  onConsentBanner?: (banner: ConsentBanner | null) => void
  reach: Reach
}
