import { scriptTag, styleTag, type AddOn } from '../cms/add-on.js'
import { GENERATED_STYLE } from '../cms/generated-styles.js'
import { outside } from '../outsiders/address.js'
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
    features: [{ slug: 'visitor-figures', name: 'Figures of visitors, from Plumeline', on: true }],
    settings: [
      { slug: 'corner-radius', name: 'Corner radius, px', value: 4, least: 0, most: 24 },
      { slug: 'text-width', name: 'Text width, rem', value: 60, least: 40, most: 90 },
    ],
    insertedBy: 'a theme switch',
    needs: [],
    canSkip: false,
  },
  files: [
    { path: STYLE, type: 'style', body: shippedWith('hollow/hollow.css', bulkStyle('hollow-layout', 42_000)) },
    { path: SCRIPT, type: 'script', body: shippedFile('hollow/hollow.js') },
  ],
  outsideHosts: ['plumeline.localhost'],
  tags: ({ feature, address }) => [
    styleTag(STYLE),
    styleTag(GENERATED_STYLE),
    scriptTag(SCRIPT),
    ...(feature('visitor-figures')
      ? [scriptTag(`${outside('plumeline.localhost', address)}/figures.js`, 'body-end', 'async')]
      : []),
  ],
}
