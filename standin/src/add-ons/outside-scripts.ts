import { scriptTag } from '../cms/add-on.js'
import { plugin } from '../cms/plugin.js'
import { outside } from '../outsiders/address.js'

/** A container for tags: one script of another company that brings in four more of others. */
export const tagBasket = plugin({
  slug: 'tagbasket',
  name: 'Tagbasket',
  version: '9',
  author: 'Tagbasket',
  kind: 'outside script',
  summary: 'Loads statistics, advertising and the chat.',
  insertedBy: 'its own code',
  outsideHosts: [
    'tagbasket.localhost',
    'footpath.localhost',
    'adlattice.localhost',
    'hallodesk.localhost',
    'warmtrail.localhost',
  ],
  inlineIds: ['tagbasket-setup'],
  moreTags: ({ address }) => [
    { where: 'head', html: `<script id="tagbasket-setup">window.basket = [{ site: 'fernhollow' }];</script>` },
    scriptTag(`${outside('tagbasket.localhost', address)}/basket.js?id=FH-1887`, 'head', 'async'),
  ],
})

/** Pictures that visitors posted elsewhere, large and not made smaller; it preloads what only a press would need. */
export const pictureWall = plugin({
  slug: 'picture-wall',
  name: 'Picture Wall',
  version: '1.8.0',
  author: 'Treegram',
  kind: 'widget',
  summary: 'A wall of visitors’ pictures.',
  outsideHosts: ['treegram.localhost'],
  blocks: {
    async wall({ address }) {
      const host = outside('treegram.localhost', address)
      return `<link rel="preload" as="script" href="${host}/enlarge.js"><div class="wall" data-treegram="fernhollow"></div><script src="${host}/wall.js" async></script>`
    },
  },
})

/** Films in frames of another host, which bring their player along. */
export const reelFrames = plugin({
  slug: 'reel-frames',
  name: 'Reel Frames',
  version: '2.0.0',
  author: 'Reelhouse',
  kind: 'widget',
  summary: 'Films in the text.',
  outsideHosts: ['reelhouse.localhost'],
  blocks: {
    film: async ({ address }, { reel = '' }) =>
      `<iframe src="${outside('reelhouse.localhost', address)}/frame/${encodeURIComponent(reel)}" title="Film" width="640" height="360"></iframe>`,
  },
})

/** The tag of an add-on that was removed long ago; it stands in the template still, and its host still answers. */
export const orphanTag = plugin({
  slug: 'template-leftover',
  name: 'Tag in the template',
  version: '1',
  author: 'pasted into the template',
  kind: 'snippet',
  summary: 'A script tag that nobody remembers.',
  insertedBy: 'the template',
  outsideHosts: ['oldgadget.localhost'],
  moreTags: ({ address }) => [scriptTag(`${outside('oldgadget.localhost', address)}/gadget.js`, 'body-end', 'async')],
})
