import type { CDPSession, Page } from 'playwright-core'
import type { GuardLook, Landmark } from '@unvelt/core'

const LANDMARKS = new Set(['banner', 'navigation', 'main', 'contentinfo', 'complementary', 'search', 'form', 'region'])
const CONTROLS = new Set([
  'button', 'link', 'textbox', 'searchbox', 'combobox', 'listbox', 'checkbox', 'radio', 'switch', 'slider', 'spinbutton',
  'menuitem', 'tab', 'option',
]) // prettier-ignore
const MOST_CONTROLS = 1_500
const MOST_LANDMARKS = 40
const MOST_LISTED = 2_000
const LONGEST_NAME = 120

type Seen = Pick<GuardLook, 'landmarks' | 'links' | 'fields' | 'controls'>

/** What a page has for people to use, as the browser's own accessibility tree tells it. Whatever is hidden is not in it. */
export async function lookForGuards(session: CDPSession, page: Page): Promise<Seen> {
  const tree = await accessible(session)
  const landmarks: Landmark[] = []
  for (const { role, name, backendNodeId } of tree
    .filter((node) => LANDMARKS.has(node.role))
    .slice(0, MOST_LANDMARKS)) {
    const box = await boxOf(session, backendNodeId)
    if (box) landmarks.push({ role, name, ...box })
  }
  return { landmarks, controls: controlsOf(tree), ...(await page.evaluate(askLinksAndFields, MOST_LISTED)) }
}

/** The controls that can be reached now. */
export const reachableControls = async (session: CDPSession): Promise<string[]> => controlsOf(await accessible(session))

interface Node {
  role: string
  name: string
  backendNodeId: number | undefined
}

const controlsOf = (tree: readonly Node[]): string[] => [
  ...new Set(
    tree
      .filter(({ role, name }) => CONTROLS.has(role) && name !== '')
      .slice(0, MOST_CONTROLS)
      .map(({ role, name }) => `${role}: ${name}`),
  ),
]

async function accessible(session: CDPSession): Promise<Node[]> {
  const { nodes } = await session.send('Accessibility.getFullAXTree', {})
  return nodes
    .filter(({ ignored }) => !ignored)
    .map(({ role, name, backendDOMNodeId }) => ({
      role: String(role?.value ?? ''),
      name: String(name?.value ?? '')
        .replace(/\s+/g, ' ')
        .trim()
        .slice(0, LONGEST_NAME),
      backendNodeId: backendDOMNodeId,
    }))
}

/** Where an element stands on the page; null for one that is not laid out. */
async function boxOf(
  session: CDPSession,
  backendNodeId: number | undefined,
): Promise<Omit<Landmark, 'role' | 'name'> | null> {
  if (backendNodeId === undefined) return null
  try {
    const { model } = await session.send('DOM.getBoxModel', { backendNodeId })
    const [x = 0, y = 0] = model.border
    const { cssVisualViewport } = await session.send('Page.getLayoutMetrics')
    return { x: x + cssVisualViewport.pageX, y: y + cssVisualViewport.pageY, width: model.width, height: model.height }
  } catch {
    return null
  }
}

/** Runs in the page, which may have put something else in the place of whatever is asked here. */
function askLinksAndFields(most: number): { links: string[]; fields: string[] } {
  const LONGEST = 300
  const text = (value: unknown) => String(value).slice(0, LONGEST)
  const here = location.origin
  const place = (address: string) => (address.startsWith(here) ? address.slice(here.length) : address).split('#')[0]!
  const links = new Set<string>()
  for (const link of [...document.querySelectorAll<HTMLAnchorElement>('a[href]')].slice(0, most)) {
    const at = text(place(link.href))
    if (at !== '') links.add(at)
  }
  const fields = new Set<string>()
  const all = document.querySelectorAll<HTMLInputElement>(
    'input[name]:not([type=hidden]), select[name], textarea[name]',
  )
  for (const field of [...all].slice(0, most)) {
    const form = field.closest('form')?.getAttribute('action') ?? ''
    fields.add(text(`${form}#${field.getAttribute('name')}: ${field.getAttribute('type') ?? field.localName}`))
  }
  return { links: [...links], fields: [...fields] }
}
