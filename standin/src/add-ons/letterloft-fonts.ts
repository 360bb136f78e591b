import type { AddOn } from '../cms/add-on.js'
import { outside } from '../outsiders/address.js'

/** The site's typefaces, fetched from another company's host: seven weights, of which pages draw two. */
export const letterloftFonts: AddOn = {
  manifest: {
    slug: 'letterloft-fonts',
    kind: 'font',
    name: 'Letterloft fonts',
    version: '1',
    author: 'Letterloft',
    summary: 'Hollow Serif and Hollow Sans from an outside host.',
    features: [],
    needs: [],
    canSkip: true,
  },
  files: [],
  outsideHosts: ['letterloft.localhost'],
  tags: ({ address }) => {
    const src = `${outside('letterloft.localhost', address)}/faces.css?serif=400,500,600,700,800,900&sans=400`
    return [{ where: 'head', src, html: `<link rel="stylesheet" href="${src.replace(/&/g, '&amp;')}">` }]
  },
}
