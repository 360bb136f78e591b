import type {
  ArrowFunctionExpression,
  CallExpression,
  FunctionDeclaration,
  FunctionExpression,
  MethodDefinition,
  NewExpression,
  Node,
  Property,
  PropertyDefinition,
} from 'acorn'
import type { MayBeNeeded } from './used-nowhere.js'

export type AnyFunction = FunctionDeclaration | FunctionExpression | ArrowFunctionExpression | AnonymousDeclaration
/** `export default function () {}` */
type AnonymousDeclaration = Omit<FunctionDeclaration, 'id'> & { id: null }

export interface FunctionName {
  /** For people; empty where it has none. */
  name: string
  /** By what other code can name it. */
  names: string[]
  /** What the way it is written says for it; null where it has to be named by somebody. */
  because: MayBeNeeded | null
  /** Where its name is given to it, in UTF-16 code units. */
  at: number | null
}

const LONGEST_NAME = 120
/** What calls what it was given once somebody does something: of the DOM, and of the usual emitters. */
const OF_EVENTS =
  /^(?:addEventListener|attachEvent|addListener|on|once|one|bind|live|delegate|subscribe|listen|click|dblclick|submit|change|input|focus|blur|focusin|focusout|hover|scroll|resize|select|mouse\w+|key(?:down|up|press)|touch\w+|pointer\w+)$/
/** What calls it in its own time. */
const OF_LATER =
  /^(?:setTimeout|setInterval|requestAnimationFrame|requestIdleCallback|queueMicrotask|then|catch|finally|always|done|fail|ready|\w*Observer|Promise)$/
const HANDLER =
  /^(?:on[A-Z_]\w*|handle[A-Z]\w*|on(?:click|dblclick|load\w*|unload|error|message|open|close|abort|change|input|submit|reset|select|scroll\w*|resize|focus\w*|blur|key\w+|mouse\w+|touch\w+|pointer\w+|drag\w*|drop|play\w*|pause|ended|progress|popstate|hashchange|storage|online|offline|before\w+|page\w+|visibilitychange|animation\w+|transition\w+|readystatechange|timeout|success|complete|upgradeneeded|blocked|wheel|contextmenu|copy|cut|paste|toggle))$/
/** Called by the browser and the language themselves. */
const BY_THE_BROWSER =
  /^(?:toString|valueOf|toJSON|then|handleEvent|(?:connected|disconnected|attributeChanged|adopted|formAssociated|formReset|formDisabled|formStateRestore)Callback|observedAttributes)$/

/**
 * What a function is called, by where it stands.
 * @param ancestors The nodes around it, the outermost first.
 */
export function nameOfFunction(node: AnyFunction, ancestors: readonly Node[], code: string): FunctionName {
  const parent = ancestors.at(-1)
  const outer = ancestors.slice(0, -1)
  // What stands as a value in other code is had by that code.
  const unnamed: FunctionName = { name: '', names: [], because: 'called', at: null }
  if (node.type === 'FunctionDeclaration') return node.id ? byName(node.id.name, node.id.start) : unnamed
  switch (parent?.type) {
    case 'VariableDeclarator':
    case 'AssignmentExpression':
    case 'AssignmentPattern':
    case 'Property':
    case 'PropertyDefinition':
    case 'MethodDefinition': {
      const path = pathOf(parent, outer, code)
      return path ? byPath(path) : unnamed
    }
    case 'CallExpression':
    case 'NewExpression':
      return (parent as CallExpression).callee === node ? unnamed : byCall(parent as CallExpression, code)
    default:
      return node.type === 'FunctionExpression' && node.id ? { ...unnamed, name: node.id.name } : unnamed
  }
}

const byName = (name: string, at: number): FunctionName => ({ name: cut(name), names: [name], because: null, at })

interface NamePath {
  name: string
  /** The last part, by which it is called; a class for its constructor. */
  last: string
  at: number
}

function byPath({ name, last, at }: NamePath): FunctionName {
  const because = HANDLER.test(last) ? 'event' : BY_THE_BROWSER.test(last) ? 'later' : null
  return { name: cut(name), names: [last], because, at }
}

function byCall(call: CallExpression | NewExpression, code: string): FunctionName {
  const callee = call.callee as Node & { name?: string; property?: Node & { name?: string } }
  const called = callee.name ?? callee.property?.name ?? ''
  const said = call.arguments.find(
    (argument) => argument.type === 'Literal' && typeof (argument as { value?: unknown }).value === 'string',
  )
  const because = OF_EVENTS.test(called) ? 'event' : OF_LATER.test(called) ? 'later' : 'called'
  const given = said ? `${called}(${code.slice(said.start, said.end)})` : called && `${called}()`
  return { name: cut(given), names: [], because, at: null }
}

/** The name that a value is given by what is around it, with those of the objects and classes that it is in. */
function pathOf(parent: Node, outer: readonly Node[], code: string): NamePath | null {
  const any = parent as Node & { id?: Node & { name?: string }; left?: Node }
  if (parent.type === 'VariableDeclarator') return identifierPath(any.id!)
  if (parent.type === 'AssignmentExpression' || parent.type === 'AssignmentPattern') return leftPath(any.left!, code)
  const member = parent as Property | PropertyDefinition | MethodDefinition
  const key = member.key as Node & { name?: string; value?: unknown }
  const keyName = member.computed ? undefined : (key.name ?? (key.value === undefined ? undefined : String(key.value)))
  if (keyName === undefined) return null
  const owner = ownerOf(outer, code)
  if (member.type === 'MethodDefinition' && member.kind === 'constructor')
    return owner && { name: `${owner.name}.constructor`, last: owner.last, at: key.start }
  return { name: owner ? `${owner.name}.${keyName}` : keyName, last: keyName, at: key.start }
}

function ownerOf(around: readonly Node[], code: string): NamePath | null {
  const inner = around.at(-1)
  const isClass = inner?.type === 'ClassBody'
  const holder = isClass ? (around.at(-2) as Node & { id?: (Node & { name: string }) | null }) : null
  if (holder?.id) return { name: holder.id.name, last: holder.id.name, at: holder.id.start }
  const rest = around.slice(0, isClass ? -2 : -1)
  const parent = rest.at(-1)
  if ((!isClass && inner?.type !== 'ObjectExpression') || !parent) return null
  return NAMING.has(parent.type) ? pathOf(parent, rest.slice(0, -1), code) : null
}

const NAMING = new Set(['VariableDeclarator', 'AssignmentExpression', 'Property', 'PropertyDefinition'])

const identifierPath = (id: Node & { name?: string }): NamePath | null =>
  id.name === undefined ? null : { name: id.name, last: id.name, at: id.start }

function leftPath(left: Node, code: string): NamePath | null {
  const any = left as Node & { name?: string; computed?: boolean; property?: Node & { name?: string; value?: unknown } }
  if (any.name !== undefined) return identifierPath(any)
  if (left.type !== 'MemberExpression' || !any.property) return null
  const { property } = any
  const last = any.computed ? property.value : property.name
  if (typeof last !== 'string') return null
  return { name: code.slice(left.start, left.end).replace(/\s+/g, ' '), last, at: property.start }
}

const cut = (name: string) => (name.length > LONGEST_NAME ? `${name.slice(0, LONGEST_NAME - 1)}…` : name)
