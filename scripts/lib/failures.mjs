import { stripVTControlCharacters } from 'node:util'

const LINES = 12
const briefly = (text) => stripVTControlCharacters(text).trim().split('\n').slice(0, LINES).join('\n')

/** What failed by Jest's own report, each as a name and the first lines of why. */
export function failuresOfJest({ testResults = [] }) {
  return testResults.flatMap(({ name, message, assertionResults }) => {
    const failed = assertionResults.filter(({ status }) => status === 'failed')
    // A file that could not even be run has no tests that failed.
    if (failed.length === 0 && assertionResults.length === 0 && message) return [{ name, why: briefly(message) }]
    return failed.map(({ fullName, failureMessages }) => ({
      name: `${name} › ${fullName}`,
      why: briefly(failureMessages.join('\n')),
    }))
  })
}

/** What failed by Playwright's own report. */
export function failuresOfPlaywright(report) {
  const within = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(within)]
  return within(report)
    .filter(({ tests }) => tests.some(({ status }) => status === 'unexpected'))
    .map(({ title, file, tests }) => ({
      name: `${file} › ${title}`,
      why: briefly(tests.flatMap(({ results }) => results.flatMap((r) => r.errors.map((e) => e.message))).join('\n')),
    }))
}
