import { expect, test } from '@playwright/test'
import createClient from 'openapi-fetch'
import type { paths } from './generated/api.js'

/** Whoever drives Unvelt by a program: a client that is made from the API's own description, and nothing else. */
test('a site is registered and swept, and its figures are read, by a generated client alone', async () => {
  const api = createClient<paths>({ baseUrl: process.env.UNVELT_URL! })
  const sites = await api.GET('/api/sites')
  const standin = sites.data!.find(({ address }) => address === process.env.STANDIN_URL)!
  const path = { site: standin.id }
  const pages = await api.GET('/api/sites/{site}/pages', { params: { path } })
  const [page] = pages.data!

  const begun = await api.POST('/api/sites/{site}/sweeps', {
    params: { path },
    body: { pageIds: [page!.id], repeats: 2 },
  })
  expect(begun.error).toBeUndefined()
  const { id } = begun.data!
  const sweep = async () => (await api.GET('/api/sweeps/{sweep}', { params: { path: { sweep: id } } })).data!
  await expect.poll(async () => (await sweep()).status, { timeout: 300_000 }).toBe('done')
  expect(await sweep()).toMatchObject({ pagesDone: 1, pagesFailed: 0, readings: 2, readingsFailed: 0, why: null })

  const sheet = await api.GET('/api/sites/{site}/pages/{page}', {
    params: { path: { ...path, page: page!.id }, query: { sweep: id } },
  })
  expect(sheet.data!.requests.length).toBeGreaterThan(10)

  const refused = await api.POST('/api/sites/{site}/sweeps', { params: { path }, body: { repeats: 5_000 } })
  expect(refused.response.status).toBe(422)
  expect(refused.error).toMatchObject({ errors: [{ field: 'repeats' }] })
})
