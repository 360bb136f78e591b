import vm from 'node:vm'
import { ADD_ONS } from '../src/add-ons/index.js'
import { leafPress, minified, trimPress } from '../src/cms/minify.js'

const scripts = ADD_ONS.flatMap(({ files }) => files.filter((file) => file.type === 'script'))
const sorter = scripts.find((file) => file.path.includes('table-sorter'))!

/** Whether a script defines what it defines, in a page with nothing in it. */
function runs(text: string): boolean {
  const window: Record<string, unknown> = {}
  vm.runInNewContext(text, { window, document: { querySelectorAll: () => [] }, Object })
  return window.rootlib1 !== undefined
}

describe('two minifiers', () => {
  it('are each sound, and comment the table sorter out together', () => {
    const text = sorter.body.toString()
    expect([runs(text), runs(trimPress(text)), runs(leafPress(text))]).toEqual([true, true, true])
    expect(runs(leafPress(trimPress(text)))).toBe(false)
  })

  it('leave every other script that ships fit to be parsed', () => {
    for (const file of scripts)
      expect(() => new vm.Script(minified(file, true, true).toString(), { filename: file.path })).not.toThrow()
  })

  it('do nothing when they are off', () => expect(minified(sorter, false, false)).toBe(sorter.body))
})
