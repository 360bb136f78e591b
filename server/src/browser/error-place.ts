/** Where a line of the console came from, as `address:line:column`, counted from 1; nothing where the browser didn't say. */
export function placeOf({ url, lineNumber, columnNumber }: { url: string; lineNumber: number; columnNumber: number }) {
  return url === '' ? undefined : `${url}:${lineNumber + 1}:${columnNumber + 1}`
}

/** The topmost place in a stack as V8 writes it. */
export const placeInStack = (stack: string | undefined): string | undefined =>
  /\(?((?:https?|file):\/\/[^\s()]+:\d+:\d+)\)?/.exec(stack ?? '')?.[1]
