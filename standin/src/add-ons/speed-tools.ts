import { plugin } from '../cms/plugin.js'

const tool = { author: 'Cellar Works', works: 'unseen' as const }

/** The page cache, and two switches for how files are sent. */
export const larder = plugin({
  ...tool,
  slug: 'larder',
  name: 'Larder',
  version: '3.2.0',
  summary: 'Keeps pages that were made, and sends files pressed and for keeping.',
  features: [
    { slug: 'page-cache', name: 'Keep pages', on: true },
    { slug: 'preload', name: 'Make pages anew after a purge', on: false },
    { slug: 'compression', name: 'Press files', on: true },
    { slug: 'static-caching', name: 'Let browsers keep files', on: true },
  ],
})

/** Glues the files of many add-ons into one, when it is switched on: nobody can tell then who weighs what. */
export const pressTogether = plugin({
  ...tool,
  slug: 'press-together',
  name: 'Press Together',
  version: '1.5.2',
  summary: 'Glues scripts and styles into one file each.',
  features: [
    { slug: 'glue-scripts', name: 'Glue scripts', on: false },
    { slug: 'glue-styles', name: 'Glue styles', on: false },
  ],
})

/** Two minifiers. Each is sound; one behind the other, they comment the Table Sorter out. */
export const trimPress = plugin({
  ...tool,
  slug: 'trim-press',
  name: 'Trim Press',
  version: '2.0.1',
  author: 'Trim & Sons',
  summary: 'Makes scripts smaller.',
})
export const leafPress = plugin({
  ...tool,
  slug: 'leaf-press',
  name: 'Leaf Press',
  version: '0.8.4',
  author: 'December Code',
  summary: 'Makes scripts smaller.',
})
