import { appForTest } from './app-for-test.js'

/** The API's own description of itself. */
let t: Awaited<ReturnType<typeof appForTest>>
let description: { components: { schemas: Record<string, object> }; paths: Record<string, Record<string, Operation>> }
interface Operation {
  responses: Record<string, object>
}

beforeAll(async () => {
  t = await appForTest()
  description = (await t.call('GET', '/openapi.json')).body
})
afterAll(() => t?.stop())

it('is valid, by a validator that is not ours', async () => {
  const { Validator } = await import('@seriousme/openapi-schema-validator')
  const result = await new Validator().validate(structuredClone(description))
  expect(result.errors ?? []).toEqual([])
  expect(result.valid).toBe(true)
})

it('points nowhere that is not there, and leaves no field of an answer out', () => {
  const text = JSON.stringify(description)
  const refs = [...text.matchAll(/"\$ref":"([^"]+)"/g)].map(([, ref]) => ref!)
  expect(refs.length).toBeGreaterThan(100)
  for (const ref of new Set(refs)) {
    expect(ref).toMatch(/^#\/components\/schemas\/\w+$/)
    expect(Object.keys(description.components.schemas)).toContain(ref.split('/').at(-1))
  }
  expect(description.components.schemas).toMatchObject({
    Prediction: { properties: { saved: { additionalProperties: { type: 'number' } }, perPage: { type: 'array' } } },
    ProofFigure: { properties: { before: { type: 'number', nullable: true }, beforeReadings: { type: 'array' } } },
  })
})

it('says of every call what it answers with', () => {
  const silent = Object.entries(description.paths).flatMap(([path, operations]) =>
    Object.entries(operations)
      .filter(([, { responses }]) => !Object.keys(responses).some((status) => /^2/.test(status)))
      .map(([method]) => `${method} ${path}`),
  )
  expect(silent).toEqual([])
})

it('is the same without a server, as the client of the end-to-end tests is made from it', async () => {
  const { describeWithoutRunning } = await import('../src/openapi/describe-without-running.js')
  expect(JSON.parse(JSON.stringify(await describeWithoutRunning()))).toEqual(description)
})
