import type { Fernhollow } from '../cms/fernhollow.js'
import type { Calls } from './call.js'

/** What visitors and editors send to the site, as it can be tried without meaning it. */
interface Action {
  name: string
  method: 'GET' | 'POST'
  path: string
  form?: Record<string, string>
  /** In whose role; a visitor's where none is named. */
  as?: string
}

const FORMS: (Action & { form: Record<string, string> })[] = [
  {
    name: 'post a comment',
    method: 'POST',
    path: '/forms/comment',
    form: { author: 'A trial', words: 'The lime by the gate is in leaf already.' },
  },
  {
    name: 'send the enquiry form',
    method: 'POST',
    path: '/forms/enquiry',
    form: { Name: 'A trial', Email: 'trial@fernhollow.localhost', Message: 'Is the ice house open in winter?' },
  },
]

export const actionCalls = (site: Fernhollow): Calls => ({
  'GET /actions': () => ({ json: { actions: actionsOf(site) } }),
})

function actionsOf(site: Fernhollow): Action[] {
  const running = site.installed.addOns.filter(({ active }) => active !== false)
  const taken = (path: string) => running.some(({ actions }) => actions && Object.hasOwn(actions, path))
  const product = site.book.all().find(({ kind }) => kind === 'product')
  const edited = site.book.listed().find(({ area, roles, path }) => area === 'public' && !roles && path !== '/')
  return [
    ...(site.book.find('/search') ? [{ name: 'search', method: 'GET' as const, path: '/search?q=oak' }] : []),
    ...FORMS.filter(({ path }) => taken(path)),
    ...(product && taken('/forms/basket')
      ? [
          {
            name: 'add to basket',
            method: 'POST' as const,
            path: '/forms/basket',
            form: { seed: product.path.replace('/shop/', '') },
          },
        ]
      : []),
    ...(edited
      ? [
          {
            name: 'save in the editor',
            method: 'POST' as const,
            path: '/office/editor',
            form: { path: edited.path, title: edited.title, lead: edited.lead },
            as: 'editor',
          },
        ]
      : []),
  ]
}
