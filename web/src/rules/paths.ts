/** What stands on lines of their own, each once. */
export const linesIn = (text: string): string[] => [
  ...new Set(
    text
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean),
  ),
]

/** Whether a line means more than one address (URLPattern). */
export const isPattern = (line: string): boolean => /[*:({?]/.test(line)

/** What is wrong with paths of pages, one on each line; true where nothing is. */
export function pathProblem(text: string, known: ReadonlySet<string>): string | true {
  const paths = linesIn(text)
  return paths.length === 0 ? 'Name a page at least.' : lineProblem(paths, known, false)
}

/** As `pathProblem`, where none is needed and a line may be a pattern. */
export const exceptProblem = (text: string, known: ReadonlySet<string>): string | true =>
  lineProblem(linesIn(text), known, true)

function lineProblem(lines: readonly string[], known: ReadonlySet<string>, takesPatterns: boolean): string | true {
  const wrong = lines.findIndex((line) => !line.startsWith('/'))
  if (wrong !== -1) return `Line ${wrong + 1}: expected a path that begins with /.`
  const unknown = lines.find((line) => !known.has(line) && !(takesPatterns && isPattern(line)))
  return unknown === undefined || `${unknown} is no page that is known.`
}
