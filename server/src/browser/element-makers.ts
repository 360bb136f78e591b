import type { CDPSession } from 'playwright-core'
import type { Protocol } from 'devtools-protocol'
import type { ElementMaker, StackFrame } from '@unvelt/core'

/** Elements beyond this number are counted as the page's own. */
const MOST_ASKED = 6_000
const AT_A_TIME = 200
const MOST_FRAMES = 8

/** Has the browser remember which script made each node. Must be called before the page begins. */
export async function rememberMakers(session: CDPSession): Promise<void> {
  await session.send('DOM.enable')
  await session.send('DOM.setNodeStackTracesEnabled', { enable: true })
}

/**
 * How many of the page's elements each piece of script has made, by the call stack that made them; those that came with
 * the HTML have none.
 */
export async function elementMakers(session: CDPSession): Promise<ElementMaker[]> {
  // Nodes are known by number once the document has been asked for.
  await session.send('DOM.getDocument', { depth: 0 })
  const { nodes } = await session.send('DOM.getFlattenedDocument', { depth: -1, pierce: false })
  const elements = nodes.filter((node) => node.nodeType === ELEMENT)
  const drawn = await drawnNodes(session)
  const makers = new Map<string, ElementMaker & { inSight: number }>()
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
    stacks.forEach(({ creation }, index) => add(framesOf(creation), some[index]!))
  }
  return [...makers.values()].sort((a, b) => b.elements - a.elements)
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
