import type { CDPSession } from 'playwright-core'
import type { Protocol } from 'devtools-protocol'
import type { ElementMaker, RequestRecord, StackFrame } from '@unvelt/core'

/** Elements beyond this number are counted as the page's own. */
const MOST_ASKED = 6_000
const AT_A_TIME = 200
const MOST_FRAMES = 8

/** Has the browser remember which script made each node. Must be called before the page begins. */
export async function rememberMakers(session: CDPSession): Promise<void> {
  await session.send('DOM.enable')
  await session.send('DOM.setNodeStackTracesEnabled', { enable: true })
  // Pictures are asked for a moment after the script that wanted them, so their callers are known by asynchronous stacks only.
  await session.send('Runtime.enable')
  await session.send('Runtime.setAsyncCallStackDepth', { maxDepth: MOST_FRAMES })
}

/** Who made the page's elements, and who put in those that load something: by its address, the stack of the script. */
export interface Makers {
  makers: ElementMaker[]
  callers: Map<string, StackFrame[]>
}

/**
 * How many of the page's elements each piece of script has made, by the call stack that made them; those that came with
 * the HTML have none.
 */
export async function elementMakers(session: CDPSession): Promise<Makers> {
  // Nodes are known by number once the document has been asked for.
  const { root } = await session.send('DOM.getDocument', { depth: 0 })
  const { nodes } = await session.send('DOM.getFlattenedDocument', { depth: -1, pierce: false })
  const elements = nodes.filter((node) => node.nodeType === ELEMENT)
  const drawn = await drawnNodes(session)
  const makers = new Map<string, ElementMaker & { inSight: number }>()
  const callers = new Map<string, StackFrame[]>()
  const add = (stack: StackFrame[], { backendNodeId }: Protocol.DOM.Node) => {
    const key = JSON.stringify(stack)
    const maker = makers.get(key) ?? { stack, elements: 0, inSight: 0 }
    maker.elements++
    if (drawn.has(backendNodeId)) maker.inSight++
    makers.set(key, maker)
  }
  for (let from = 0; from < elements.length; from += AT_A_TIME) {
    const some = elements.slice(from, from + AT_A_TIME)
    if (from >= MOST_ASKED) {
      for (const node of some) add([], node)
      continue
    }
    const stacks = await Promise.all(
      some.map(({ nodeId }) =>
        session.send('DOM.getNodeStackTraces', { nodeId }).catch(() => ({ creation: undefined })),
      ),
    )
    stacks.forEach(({ creation }, index) => {
      const node = some[index]!
      const stack = framesOf(creation)
      add(stack, node)
      if (stack.length > 0 && LOADING.has(node.localName))
        noteCaller(callers, node, root.baseURL ?? root.documentURL ?? '', stack)
    })
  }
  return { makers: [...makers.values()].sort((a, b) => b.elements - a.elements), callers }
}

/** Elements whose files are asked for without the script that put them in. */
const LOADING = new Set(['img', 'video', 'audio', 'source', 'track', 'embed', 'object'])

function noteCaller(
  callers: Map<string, StackFrame[]>,
  { attributes = [] }: Protocol.DOM.Node,
  base: string,
  stack: StackFrame[],
): void {
  for (let n = 0; n + 1 < attributes.length; n += 2) {
    if (!/^(src|poster|data)$/.test(attributes[n]!) || !URL.canParse(attributes[n + 1]!, base)) continue
    const { href } = new URL(attributes[n + 1]!, base)
    if (!callers.has(href)) callers.set(href, stack)
  }
}

/** Requests that nobody's code is known to have asked for, with the stack of whoever put their elements in. */
export function withCallers(requests: RequestRecord[], callers: ReadonlyMap<string, StackFrame[]>): RequestRecord[] {
  if (callers.size === 0) return requests
  return requests.map((request) => {
    const { type, initiator, url } = request
    const stack = type === 'picture' || type === 'media' ? callers.get(url) : undefined
    if (!stack || initiator.type !== 'parser' || initiator.stack?.length) return request
    return { ...request, initiator: { type: 'script', url: stack[0]!.url, line: stack[0]!.line, stack } }
  })
}

const ELEMENT = 1

/** The nodes that have a size on the page and are not hidden. */
async function drawnNodes(session: CDPSession): Promise<Set<number>> {
  const { documents, strings } = await session.send('DOMSnapshot.captureSnapshot', { computedStyles: ['visibility'] })
  const drawn = new Set<number>()
  for (const { nodes, layout } of documents)
    layout.nodeIndex.forEach((node, index) => {
      const [, , width = 0, height = 0] = layout.bounds[index] ?? []
      const hidden = strings[layout.styles[index]?.[0] ?? -1] === 'hidden'
      const id = nodes.backendNodeId?.[node]
      if (id !== undefined && !hidden && width >= 1 && height >= 1) drawn.add(id)
    })
  return drawn
}

const framesOf = (stack: Protocol.Runtime.StackTrace | undefined): StackFrame[] =>
  (stack?.callFrames ?? [])
    .filter(({ url }) => url !== '')
    .slice(0, MOST_FRAMES)
    .map(({ url, lineNumber, columnNumber }) => ({ url, line: lineNumber, column: columnNumber }))
