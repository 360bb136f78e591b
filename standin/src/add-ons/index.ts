import type { AddOn } from '../cms/add-on.js'
import { canopySlider } from './canopy-slider.js'
import { enquiryForm } from './enquiry-form.js'
import { heronmarkCounter } from './heronmark-counter.js'
import { hollowTheme } from './hollow-theme.js'
import { letterloftFonts } from './letterloft-fonts.js'
import { passItOn } from './pass-it-on.js'
import { seasonSnippet } from './season-snippet.js'
import { seekHelper } from './seek-helper.js'
import { walkAlmanac } from './walk-almanac.js'

/** In the order in which the CMS runs them. */
export const ADD_ONS: AddOn[] = [
  hollowTheme,
  letterloftFonts,
  heronmarkCounter,
  seekHelper,
  walkAlmanac,
  canopySlider,
  enquiryForm,
  passItOn,
  seasonSnippet,
]
