import type { AddOn } from '../cms/add-on.js'
import { outside } from '../outsiders/address.js'

/** A visitor counter from outside: its tag is answered with a redirect, and brings in two more scripts. */
export const heronmarkCounter: AddOn = {
  manifest: {
    slug: 'heronmark',
    kind: 'outside script',
    name: 'Heronmark counter',
    version: '3',
    author: 'Heronmark',
    summary: 'Counts visitors.',
    features: [],
    needs: [],
    canSkip: true,
  },
  files: [],
  outsideHosts: ['heronmark.localhost'],
  tags: ({ address }) => {
    const src = `${outside('count.heronmark.localhost', address)}/m.js`
    return [{ where: 'head', src, html: `<script async src="${src}"></script>` }]
  },
}
