import { parse, type Program } from 'acorn'

/** A script as code, be it classic or a module; null where it is neither. */
export function parseScript(code: string): Program | null {
  for (const sourceType of ['script', 'module'] as const)
    try {
      return parse(code, {
        ...{ ecmaVersion: 'latest', sourceType, allowHashBang: true },
        // Some are meant to be put into a function.
        allowReturnOutsideFunction: true,
      })
    } catch {
      continue
    }
  return null
}
