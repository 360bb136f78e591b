import type { Fernhollow } from '../cms/fernhollow.js'
import { Refusal } from '../cms/refusal.js'
import { recordOf, type Calls } from './call.js'

/** Switches, settings, versions and removal of add-ons. */
export const addOnCalls = (site: Fernhollow): Calls => {
  const { installed } = site
  const told = (slug: string) => {
    const { manifest, active = true } = installed.get(slug)
    const { version, features, settings = [] } = manifest
    return { json: { slug, version, active, features, settings } }
  }
  return {
    'PUT /add-ons/*/features': async ({ name, body }) => {
      const { features, settings } = recordOf(body)
      await installed.set(name, recordOf(features), recordOf(settings))
      return told(name)
    },
    'PUT /add-ons/*/active': async ({ name, body }) => {
      const { active } = recordOf(body)
      if (typeof active !== 'boolean')
        throw new Refusal(422, 'Nothing was changed.', { problems: [{ at: '/active', expected: 'true or false' }] })
      await installed.switch(name, active)
      return told(name)
    },
    'POST /add-ons/*/install': async ({ name, body }) => {
      const { version } = recordOf(body)
      if (version !== undefined && typeof version !== 'string')
        throw new Refusal(422, 'Nothing was changed.', { problems: [{ at: '/version', expected: 'a text' }] })
      await installed.install(name, version)
      await site.leftovers.setUp()
      return told(name)
    },
    'DELETE /add-ons/*': async ({ name }) => {
      await installed.remove(name)
      return { json: { slug: name, leftovers: (await site.leftovers.list()).filter((l) => l.of === name).length } }
    },
  }
}
