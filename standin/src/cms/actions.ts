import type { IncomingMessage, ServerResponse } from 'node:http'
import { send } from '../http/answer.js'
import { readBody, TooLargeError } from '../http/read-body.js'
import { basketOf, newBasket } from './basket.js'
import type { Fernhollow } from './fernhollow.js'
import type { Database } from './database.js'
import type { MeasuringRequest } from './measuring.js'
import { personInRole, readCookies, SIGN_OUT_COOKIE, type People, type Person } from './people.js'
import { Refusal } from './refusal.js'
import { Trace } from './trace.js'

const MOST_FORM_BYTES = 64_000

/** A form that somebody sent. A trial goes the same way, in a database that forgets it all. */
interface Sent {
  path: string
  form: URLSearchParams
  person: Person | null
  request: IncomingMessage
  trace: Trace
  database: Database
  keeps: boolean
}

/** Forms that are sent: signing in and out, saving in the editor, and whatever add-ons take. */
export class Actions {
  constructor(private readonly site: Fernhollow) {}

  async handle(
    request: IncomingMessage,
    response: ServerResponse,
    address: URL,
    { person }: { person: Person | null },
    measuring: MeasuringRequest | null,
    people: People,
  ): Promise<void> {
    const path = address.pathname
    if (path === '/presence') return send(response, 204, {})
    if (path === '/sign-out') return goTo(response, '/', [SIGN_OUT_COOKIE])
    const form = await this.form(request, response)
    if (!form) return
    if (path === '/sign-in') return this.signIn(response, form, people)
    const spans = measuring ? this.site.spansOf(request, address) : null
    const trace = new Trace(spans)
    const sent = { path, form, request, trace }
    const trial = measuring?.trial ?? null
    const {
      to,
      cookies = [],
      status = 303,
    } = trial === null
      ? await this.run({ ...sent, person, database: this.site.database, keeps: true })
      : await this.site.database.trial((database) =>
          this.run({ ...sent, person: personInRole(trial), database, keeps: false }),
        )
    spans?.end(status, trace)
    const headers: Record<string, string> = measuring ? { 'server-timing': trace.serverTiming() } : {}
    if (status === 303) return goTo(response, to, cookies, headers)
    send(response, status, { 'content-type': 'text/plain; charset=utf-8', ...headers }, to)
  }

  private async run(sent: Sent): Promise<{ to: string; cookies?: string[]; status?: number }> {
    const { path, form, person, request, trace, database } = sent
    const running = this.site.installed.addOns.filter((addOn) => addOn.active !== false)
    if (path === '/office/editor') {
      if (person?.role !== 'editor') return { status: 403, to: 'Only editors may save.' }
      return trace.step('cms', () => this.save(sent, running), 'saving')
    }
    const addOn = running.find((a) => a.actions && Object.hasOwn(a.actions, path))
    if (!addOn) return { status: 404, to: 'Nobody takes this form.' }
    const cookies: string[] = []
    let basket = basketOf(readCookies(request.headers.cookie))
    if (!basket) {
      const made = newBasket()
      basket = made.id
      cookies.push(made.cookie)
    }
    const result = await trace.step(
      addOn.manifest.slug,
      () =>
        addOn.actions![path]!({
          form,
          person,
          basket,
          trace,
          database,
          page: (at) => this.site.book.find(at),
          accepts: (text) => this.accepts(text, database, trace),
        }),
      `the form ${path}`,
    )
    if ('refused' in result) return { status: 422, to: result.refused }
    return { to: result.to, cookies: [...cookies, ...(result.cookies ?? [])] }
  }

  /** Asks every add-on that guards what is posted. */
  private async accepts(text: string, database: Database, trace: Trace): Promise<boolean> {
    for (const { manifest, active, guards } of this.site.installed.addOns) {
      if (active === false || !guards) continue
      if (!(await trace.step(manifest.slug, () => guards(text, database, trace), 'guarding'))) return false
    }
    return true
  }

  private async save({ form, trace, database, keeps }: Sent, running: Fernhollow['installed']['addOns']) {
    const path = form.get('path') ?? ''
    const title = (form.get('title') ?? '').trim()
    const lead = (form.get('lead') ?? '').trim()
    if (title === '' || title.length > 200 || lead.length > 500)
      return { status: 422, to: 'title: expected 1 to 200 characters; lead: at most 500.' }
    try {
      const dropped = form.getAll('drop').filter((block) => /^\[\[[^[\]]{1,500}\]\]$/.test(block))
      await this.site.book.write({ path, title, lead, dropped }, database, trace)
      if (keeps) await this.site.book.reload()
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      return { status: error.status, to: error.message }
    }
    for (const addOn of running)
      if (addOn.onSave) await trace.step(addOn.manifest.slug, () => addOn.onSave!(path, database, trace), 'saving')
    if (keeps) this.site.cache.purge([path])
    return { to: `/office/editor?path=${encodeURIComponent(path)}&saved=1` }
  }

  private async signIn(response: ServerResponse, form: URLSearchParams, people: People): Promise<void> {
    const cookie = await people.signIn(form.get('name') ?? '', form.get('word') ?? '', Date.now() / 1000)
    const to = form.get('to') ?? ''
    if (!cookie) return goTo(response, `/sign-in?wrong=1&to=${encodeURIComponent(to)}`)
    // Only ever back to this site.
    goTo(response, /^\/(?![/\\])/.test(to) ? to : '/members', [cookie])
  }

  private async form(request: IncomingMessage, response: ServerResponse): Promise<URLSearchParams | null> {
    try {
      return new URLSearchParams(await readBody(request, MOST_FORM_BYTES))
    } catch (error) {
      if (!(error instanceof TooLargeError)) throw error
      request.resume()
      response.setHeader('connection', 'close')
      send(response, 413, { 'content-type': 'text/plain' }, `The form has ${error.message}.`)
      return null
    }
  }
}

function goTo(
  response: ServerResponse,
  to: string,
  cookies: string[] = [],
  headers: Record<string, string> = {},
): void {
  if (cookies.length > 0) response.setHeader('set-cookie', cookies)
  send(response, 303, { ...headers, location: to, 'cache-control': 'no-store' })
}
