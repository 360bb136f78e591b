import 'reflect-metadata'
import { readdirSync, readFileSync } from 'node:fs'
import { Ajv2020 } from 'ajv/dist/2020.js'
import fc from 'fast-check'
import { EFFECTS, HOLD_UNTIL, ORDERS, parseRuleFile } from '@unvelt/core'
import { connectorSchemas } from '../src/connector/schemas.js'

const folder = new URL('../schemas/', import.meta.url)
const read = (name: string) => JSON.parse(readFileSync(new URL(name, folder), 'utf8')) as Record<string, unknown>
const ajv = new Ajv2020({ strict: false })

describe('the published schemas', () => {
  it('are what the validation classes say; npm run schemas writes them anew', () => {
    const made = connectorSchemas()
    expect(readdirSync(folder).sort()).toEqual([...Object.keys(made), 'rules.schema.json'].sort())
    for (const [name, schema] of Object.entries(made)) expect(read(name)).toEqual(schema)
  })

  it('refuse what the classes refuse', () => {
    const validate = ajv.compile(read('pages.schema.json'))
    const page = { path: '/', title: 'Home', kind: 'page', area: 'public' }
    expect(validate({ pages: [page], next: null })).toBe(true)
    for (const wrong of [{ path: 'about' }, { area: 'attic' }, { kind: '' }, { weight: -1 }, { modified: 'yesterday' }])
      expect(validate({ pages: [{ ...page, ...wrong }] })).toBe(false)
  })
})

describe('the rules’ schema', () => {
  const validate = ajv.compile(read('rules.schema.json'))
  /** Values that are right, and some that are not. */
  const either = <T>(...right: T[]) => fc.constantFrom<unknown>(...right, ...right, null, '', 7, 'other')
  const HASH = `sha384-${'aB+/'.repeat(16)}`
  const place = fc.oneof(
    fc.record({ level: fc.constant('everywhere') }),
    fc.record({ level: fc.constant('area'), area: either('public', 'office') }),
    fc.record({ level: fc.constant('kind'), kind: either('event') }),
    fc.record({ level: fc.constant('path'), pattern: either('/a/*', '/b') }),
    fc.record(
      { level: fc.constant('set'), paths: either<unknown>(['/a', '/b'], [], ['a']), name: either('with a map', ' ') },
      { requiredKeys: ['level', 'paths'] },
    ),
    fc.record({ level: fc.constant('page'), path: either('/a') }),
    fc.record({ level: either('nowhere') }),
  )
  const rule = fc.record(
    {
      id: fc.uuid(),
      addon: either('slider'),
      feature: either('f'),
      file: either('/f.js'),
      setting: either('most'),
      value: either<unknown>(3, 1.5),
      effect: either(...EFFECTS),
      until: either(...HOLD_UNTIL),
      copy: fc.oneof(
        fc.constant({}),
        fc.record(
          { refreshDays: fc.constantFrom(0, 1, 7, 366, 1.5), licence: fc.constantFrom('', 'MIT', ' ') },
          { requiredKeys: [] },
        ),
        fc.record(
          {
            content: fc.constantFrom(HASH, 'sha384-short', ''),
            from: fc.constantFrom(HASH, `${HASH}=`),
            licence: fc.constant('MIT'),
          },
          { requiredKeys: [] },
        ),
        fc.constant({ content: HASH, from: HASH }),
      ),
      ahead: fc.constantFrom<unknown>(true, false, 'yes'),
      fonts: fc.array(
        fc.record(
          {
            family: fc.constantFrom('Own', 'a"b', ' ', 'x'.repeat(101)),
            weight: fc.constantFrom('400', '200 900', 'bold', '0'),
            style: fc.constantFrom('normal', 'italic', 'oblique'),
            local: fc.array(fc.constantFrom('Arial', '<'), { maxLength: 3 }),
            size: fc.constantFrom(100, 20, 301),
            ascent: fc.constantFrom(90, -1),
            descent: fc.constantFrom(0, 20),
            lineGap: fc.constantFrom(0, 4.5),
            more: fc.constant(1),
          },
          { requiredKeys: ['family', 'local', 'size', 'ascent', 'descent'] },
        ),
        { maxLength: 2 },
      ),
      hosts: fc.array(
        fc.record(
          {
            origin: fc.constantFrom('https://a.test', 'http://a.test:81', 'https://a.test/', 'ftp://a.test', ''),
            cors: fc.constantFrom(true, false, 'yes'),
            nameOnly: fc.boolean(),
          },
          { requiredKeys: [] },
        ),
        { maxLength: 2 },
      ),
      ask: fc.oneof(
        fc.record(
          {
            words: either('Show the map', ' '),
            picture: either('/map.png', 'https://x.test/map.png', '//x.test/a', 'map.png'),
          },
          { requiredKeys: [] },
        ),
        fc.constant(3),
      ),
      order: either(...ORDERS),
      place,
      condition: fc.oneof(
        fc.record({ device: either('desk'), visitor: either('signed-in') }, { requiredKeys: [] }),
        fc.constant(3),
      ),
      note: either('why'),
    },
    { requiredKeys: ['id', 'addon', 'effect', 'place'] },
  )

  it('takes exactly the rule files that the reader takes', () => {
    fc.assert(
      fc.property(fc.uniqueArray(rule, { maxLength: 3, selector: ({ id }) => id }), (rules) => {
        const file = JSON.parse(JSON.stringify({ format: 'unvelt-rules/1', rules })) as unknown
        expect(validate(file)).toBe('file' in parseRuleFile(file))
      }),
      { numRuns: 3_000 },
    )
  })
})
