import type { CDPSession, Page } from 'playwright-core'
import type { NamedControl, OfferedField, OfferedForm, PageOffers } from '@unvelt/core'

/** What opens something, by the browser's own accessibility tree. A list of entries is opened by whoever fills its form. */
const OPENERS = new Set(['button', 'link', 'menuitem', 'tab'])
const MOST_SHUT = 40
const LONGEST = 200
const LONGEST_NAME = 80

/** What a page has that a visitor could do. Whatever is hidden is not told of. */
export async function lookForOffers(session: CDPSession, page: Page): Promise<PageOffers> {
  const { nodes } = await session.send('Accessibility.getFullAXTree', {})
  const shut = nodes.flatMap(({ ignored, role, name, properties = [] }): NamedControl[] => {
    const called = String(name?.value ?? '').replace(/\s+/g, ' ').trim() // prettier-ignore
    const said = String(role?.value ?? '')
    if (ignored || !OPENERS.has(said) || called === '' || called.length > LONGEST_NAME) return []
    const value = (property: string): unknown => properties.find((one) => one.name === property)?.value.value
    return value('expanded') === false ? [{ role: said, name: called }] : []
  })
  const asked: unknown = await page.evaluate(askOffers)
  return { shut: shut.slice(0, MOST_SHUT), ...offersOf(asked) }
}

type Asked = Omit<PageOffers, 'shut'>

/** A page may have put anything in the place of what it is asked with, so its answer is taken for nothing but texts and lists. */
function offersOf(asked: unknown): Asked {
  const { forms, parts, words } = record(asked)
  return {
    forms: list(forms).map((form): OfferedForm => {
      const { name, method, action, fields, submit } = record(form)
      return {
        name: text(name) || 'the form',
        method: method === 'post' ? 'post' : 'get',
        action: text(action),
        fields: list(fields).map((field): OfferedField => {
          const { at, type, required, entries } = record(field)
          return { at: text(at), type: text(type), required: required === true, entries: list(entries).map(text) }
        }),
        submit: text(submit) || null,
      }
    }),
    parts: list(parts).map((part) => ({ at: text(record(part).at), what: text(record(part).what) })),
    words: list(words).map(text).filter(Boolean),
  }
}

const record = (value: unknown) => (typeof value === 'object' && value !== null ? value : {}) as Record<string, unknown>
const list = (value: unknown): unknown[] => (Array.isArray(value) ? value.slice(0, 20) : [])
const text = (value: unknown): string => (typeof value === 'string' && value.length <= LONGEST ? value : '')

/** Runs in the page. */
function askOffers(): unknown {
  const isSeen = (element: Element) => {
    const { width, height } = element.getBoundingClientRect()
    return width > 0 && height > 0 && getComputedStyle(element).visibility === 'visible'
  }
  const clean = (said: string | null | undefined) => (said ?? '').replace(/\s+/g, ' ').trim().slice(0, 50)
  const quoted = (said: string) => JSON.stringify(said)
  // A form's own properties give way to fields that are called so, hence its attributes.
  const placeOf = (form: Element): string | null => {
    const [id, action, name] = ['id', 'action', 'name'].map((attribute) => form.getAttribute(attribute))
    if (id && !/\d{3}/.test(id)) return `#${CSS.escape(id)}`
    if (action) return `form[action=${quoted(action)}]`
    if (name) return `form[name=${quoted(name)}]`
    return document.querySelectorAll('main form').length === 1 && form.closest('main') ? 'main form' : null
  }
  const calledBy = (form: Element): string => {
    const labelled = form.getAttribute('aria-labelledby')
    const own = form.getAttribute('aria-label') || (labelled && document.getElementById(labelled)?.textContent)
    if (own) return clean(own)
    const heading = form.querySelector('h1, h2, h3, h4, legend')
    if (heading) return clean(heading.textContent)
    const button = form.querySelector<HTMLElement>('[type=submit], button')
    return clean(button?.textContent || button?.getAttribute('value') || 'the form')
  }
  const typeOf = (field: Element) =>
    field.localName === 'input' ? (field.getAttribute('type') || 'text').toLowerCase() : field.localName
  const forms = [...document.querySelectorAll('form')].slice(0, 20).flatMap((form) => {
    const place = placeOf(form)
    if (place === null || !isSeen(form)) return []
    const fields = [...form.querySelectorAll('input, select, textarea')]
      .filter((field) => field.getAttribute('name') && isSeen(field))
      .slice(0, 20)
      .map((field) => ({
        at: `${place} ${field.localName}[name=${quoted(field.getAttribute('name')!)}]`,
        type: typeOf(field),
        required: (field as HTMLInputElement).required,
        entries: [...((field as HTMLSelectElement).options ?? [])]
          .filter((entry) => entry.value !== '' && !entry.disabled)
          .slice(0, 5)
          .map((entry) => entry.label),
      }))
    const [submit] = [...form.querySelectorAll('[type=submit], button:not([type])')].filter(isSeen)
    return [
      {
        name: calledBy(form),
        method: (form.getAttribute('method') ?? 'get').toLowerCase(),
        action: new URL(form.getAttribute('action') ?? '', document.baseURI).pathname,
        fields,
        submit: submit ? `${place} :is([type=submit], button:not([type]))` : null,
      },
    ]
  })
  const main = ['main', '[role=main]'].find((at) => document.querySelector(at))
  const within = main === undefined ? '' : `${main} `
  const wanted: [at: string, what: string][] = [
    ['h1', 'the heading'],
    [`${within}iframe`, 'the frame'],
    [`${within}video`, 'the film'],
    [`${within}table`, 'the table'],
  ]
  const parts = wanted
    .filter(([at]) => [...document.querySelectorAll(at)].some(isSeen))
    .map(([at, what]) => ({ at, what }))
  const words = ['h1', `${within}h2`, `${within}h3`].flatMap((at) =>
    clean(document.querySelector(at)?.textContent)
      .toLowerCase()
      .split(/[^\p{L}]+/u)
      .filter((word) => word.length > 3)
      .sort((a, b) => b.length - a.length),
  )
  return { forms, parts, words }
}
