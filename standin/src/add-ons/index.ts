import type { AddOn } from '../cms/add-on.js'
import { builtIns, festival, gardenBadge, pictofont, ribbonShare, snowfall, unseen } from './built-ins.js'
import { canopySlider } from './canopy-slider.js'
import { enquiryForm } from './enquiry-form.js'
import { groveBuilder } from './grove-builder.js'
import { hedgeNotice } from './hedge-notice.js'
import { heronmarkCounter } from './heronmark-counter.js'
import { hollowTheme } from './hollow-theme.js'
import { letterloftFonts } from './letterloft-fonts.js'
import { codeColours } from './code-colours.js'
import { fieldMap, proofgate, ticketDesk } from './one-page-plugins.js'
import { loamOffice } from './office.js'
import { orphanTag, pictureWall, reelFrames, tagBasket } from './outside-scripts.js'
import { passItOn } from './pass-it-on.js'
import { rootlib, rootlibOld } from './rootlib.js'
import { seasonSnippet } from './season-snippet.js'
import { seekHelper } from './seek-helper.js'
import { brambleMenu, linkWarden, pageTally, relatedReads, riverLevel, signpost } from './server-heavy.js'
import { seedShop } from './shop.js'
import { siteParts } from './site-parts.js'
import { larder, leafPress, pressTogether, trimPress } from './speed-tools.js'
import { walkAlmanac } from './walk-almanac.js'
import { headRoom, skyReports } from './weather.js'

/** In the order in which the CMS runs them. */
export const ADD_ONS: AddOn[] = [
  hollowTheme,
  letterloftFonts,
  pictofont,
  loamOffice,
  siteParts,
  rootlib,
  ...builtIns,
  signpost,
  headRoom,
  tagBasket,
  heronmarkCounter,
  proofgate,
  brambleMenu,
  pageTally,
  linkWarden,
  riverLevel,
  seekHelper,
  walkAlmanac,
  canopySlider,
  enquiryForm,
  ticketDesk,
  rootlibOld,
  codeColours,
  fieldMap,
  groveBuilder,
  relatedReads,
  seedShop,
  pictureWall,
  reelFrames,
  skyReports,
  passItOn,
  ribbonShare,
  gardenBadge,
  snowfall,
  festival,
  ...unseen,
  larder,
  pressTogether,
  trimPress,
  leafPress,
  seasonSnippet,
  orphanTag,
]

/** What can be installed beside, and nobody has at first. */
export const OFFERED: AddOn[] = [hedgeNotice]
