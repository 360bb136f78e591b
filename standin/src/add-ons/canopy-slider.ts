import { scriptTag, styleTag, type AddOn } from '../cms/add-on.js'
import { bulkScript, bulkStyle } from '../files/bulk-code.js'
import { shippedWith } from '../files/shipped.js'

const BASE = '/add-ons/canopy-slider'
const FILES = {
  script: `${BASE}/canopy-slider.js`,
  effects: `${BASE}/transitions.js`,
  style: `${BASE}/canopy-slider.css`,
}

/** A picture slider: shown on the home page, loaded everywhere, with an effects file that the slider never calls. */
export const canopySlider: AddOn = {
  manifest: {
    slug: 'canopy-slider',
    kind: 'plugin',
    name: 'Canopy Slider',
    version: '2.8.1',
    author: 'Overstory Code',
    summary: 'Pictures that take turns.',
    features: [{ slug: 'transitions', name: 'Transitions', on: true }],
    needs: ['rootlib'],
    canSkip: true,
  },
  files: [
    {
      path: FILES.script,
      type: 'script',
      body: shippedWith('canopy-slider/canopy-slider.js', bulkScript('canopy-core', 71_000)),
    },
    { path: FILES.effects, type: 'script', body: Buffer.from(bulkScript('canopy-transitions', 96_000)) },
    {
      path: FILES.style,
      type: 'style',
      body: shippedWith('canopy-slider/canopy-slider.css', bulkStyle('canopy', 22_000)),
    },
  ],
  tags: ({ feature }) => [
    styleTag(FILES.style),
    ...(feature('transitions') ? [scriptTag(FILES.effects)] : []),
    scriptTag(FILES.script),
  ],
  blocks: {
    async slider() {
      const slides = [
        ['The Long Ride in October', 21],
        ['Witch hazel by the gatehouse', 27],
        ['The wet wood from the boardwalk', 34],
      ].map(
        ([caption, seed]) =>
          `<figure><img src="/media/tree-${seed}.svg" alt="" width="960" height="320"><figcaption>${caption}</figcaption></figure>`,
      )
      return `<div class="canopy">${slides.join('')}<div class="bar"><button class="prev">Back</button><button class="next">On</button><output></output></div></div>`
    },
  },
}
