import type { Node } from 'acorn'
import { fullAncestor } from 'acorn-walk'
import type { Range } from './byte-ranges.js'
import { nameOfFunction, type AnyFunction } from './function-name.js'
import { parseScript } from './parse-script.js'
import { inBytes, lineCounter, overlaps } from './text-places.js'
import { withWhatTheyAsk, type NowhereRule } from './used-nowhere.js'

/** A name where it stands. */
interface Mention {
  name: string
  at: number
}

/**
 * The functions of a script that never ran on any page or in any step, each with what speaks for it: an event that nobody did,
 * something that comes later, or code that names it. A function within one that never ran is part of that one. That nothing
 * speaks for a function doesn't prove that nobody calls it (names can be put together while a script runs), so that none of
 * them is ever left out of a file.
 * @param code The script as it was read.
 * @param used Bytes of it that ran on some page (V8's block coverage), in order and without overlap.
 * @returns Null for what is no script that can be parsed.
 */
export function idleFunctions(code: string, used: readonly Range[]): NowhereRule[] | null {
  const tree = parseScript(code)
  if (!tree) return null
  const { functions, mentions } = takenApart(tree)
  const whole = inBytes(
    functions.map(({ node: { start, end } }) => ({ from: start, to: end })),
    code,
  )
  // Where a function begins is told in several ways; its body is its own in all of them.
  const bodies = inBytes(
    functions.map(({ node: { body } }) => ({ from: body.start, to: body.end })),
    code,
  )
  const idle = outermost(
    functions.flatMap(({ node, ancestors }, n) =>
      overlaps(used, bodies[n]!) ? [] : [{ node, ancestors, bytes: whole[n]![1] - whole[n]![0] }],
    ),
  )
  const lines = lineCounter(code)
  const found = idle.map(({ node, ancestors, bytes }) => {
    const { name, names, because, at } = nameOfFunction(node, ancestors, code)
    const rule: NowhereRule = {
      ...{ what: 'function', name, line: lines(node.start), from: node.start, to: node.end, bytes },
      ...{ because, names, asks: [] },
    }
    return { rule, definedAt: at }
  })
  const definitions = new Set(found.flatMap(({ definedAt }) => definedAt ?? []))
  const rules = found.map(({ rule }) => rule)
  const callable = new Set(rules.flatMap(({ names }) => names))
  const called = new Set<string>()
  const asked = new Map<NowhereRule, Set<string>>()
  for (const { name, at } of mentions) {
    if (!callable.has(name) || definitions.has(at)) continue
    const within = holderOf(rules, at)
    if (!within) called.add(name)
    else asked.set(within, (asked.get(within) ?? new Set()).add(name))
  }
  for (const rule of rules) {
    rule.asks = [...(asked.get(rule) ?? [])]
    if (rule.names.some((name) => called.has(name))) rule.because ??= 'called'
  }
  return withWhatTheyAsk(rules)
}

const FUNCTIONS = new Set(['FunctionDeclaration', 'FunctionExpression', 'ArrowFunctionExpression'])

function takenApart(tree: Node): { functions: { node: AnyFunction; ancestors: Node[] }[]; mentions: Mention[] } {
  const functions: { node: AnyFunction; ancestors: Node[] }[] = []
  const mentions: Mention[] = []
  const mention = (name: unknown, at: number) => {
    if (typeof name === 'string' && name.length <= LONGEST_MENTION) mentions.push({ name, at })
  }
  fullAncestor(tree, (node, _state, ancestors, type) => {
    const any = node as Node & Record<string, unknown>
    if (FUNCTIONS.has(node.type)) functions.push({ node: node as AnyFunction, ancestors: ancestors.slice(0, -1) })
    // Where it is declared or assigned to, a name is a pattern.
    else if (node.type === 'Identifier' && type === 'Identifier') mention(any.name, node.start)
    else if (node.type === 'MemberExpression' && !any.computed) {
      const property = any.property as Node & { name?: string }
      mention(property.name, property.start)
    } else if (node.type === 'Literal') mention(any.value, node.start)
    else if (node.type === 'ExportSpecifier') mention((any.local as { name?: string }).name, node.start)
  })
  return { functions, mentions }
}

const LONGEST_MENTION = 200

/** Those that lie in no other, in order. */
function outermost<F extends { node: AnyFunction }>(functions: readonly F[]): F[] {
  const inOrder = [...functions].sort((a, b) => a.node.start - b.node.start || b.node.end - a.node.end)
  let end = -1
  return inOrder.filter(({ node }) => {
    if (node.start < end) return false
    end = node.end
    return true
  })
}

/** The function of some in order in which a place lies. */
function holderOf(rules: readonly NowhereRule[], at: number): NowhereRule | undefined {
  let low = 0
  let high = rules.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (rules[middle]!.to <= at) low = middle + 1
    else high = middle
  }
  const rule = rules[low]
  return rule && rule.from <= at ? rule : undefined
}
