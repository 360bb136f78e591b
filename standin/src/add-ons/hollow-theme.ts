import { scriptTag, styleTag, type AddOn } from '../cms/add-on.js'
import { bulkStyle } from '../files/bulk-code.js'
import { shippedFile, shippedWith } from '../files/shipped.js'

const STYLE = '/themes/hollow/hollow.css'
const SCRIPT = '/themes/hollow/hollow.js'

/** The theme: a style of which most is for layouts that nobody chose, and the script of the menu button. */
export const hollowTheme: AddOn = {
  manifest: {
    slug: 'hollow',
    kind: 'theme',
    name: 'Hollow',
    version: '4.2.0',
    author: 'Quillwort Studio',
    summary: 'The look of the site.',
    features: [],
    needs: [],
    canSkip: false,
  },
  files: [
    { path: STYLE, type: 'style', body: shippedWith('hollow/hollow.css', bulkStyle('hollow-layout', 42_000)) },
    { path: SCRIPT, type: 'script', body: shippedFile('hollow/hollow.js') },
  ],
  tags: () => [styleTag(STYLE), scriptTag(SCRIPT)],
}
