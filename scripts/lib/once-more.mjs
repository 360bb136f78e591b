import { existsSync, readFileSync } from 'node:fs'

/** More files than this don't fail because a machine was short of breath. */
const MOST = 5

/** Files of Jest's report of which something failed, where they are few enough to be tried once more, one after the other. */
export function filesToTryAgain({ testResults = [] }) {
  const failed = testResults.filter(({ status }) => status === 'failed').map(({ name }) => name)
  return failed.length <= MOST ? failed : []
}

/** The first report with what came of its failed files when they were tried alone. */
export function withSecondTry(first, second) {
  const again = new Set(second.testResults.map(({ name }) => name))
  const testResults = [...first.testResults.filter(({ name }) => !again.has(name)), ...second.testResults]
  const all = testResults.flatMap(({ assertionResults }) => assertionResults)
  return {
    testResults,
    numPassedTests: all.filter(({ status }) => status === 'passed').length,
    numFailedTests: all.filter(({ status }) => status === 'failed').length,
    numRuntimeErrorTestSuites: testResults.filter(
      ({ status, assertionResults }) => status === 'failed' && assertionResults.length === 0,
    ).length,
  }
}

export const reportOf = (file) =>
  existsSync(file)
    ? JSON.parse(readFileSync(file, 'utf8'))
    : { numPassedTests: 0, numFailedTests: 1, numRuntimeErrorTestSuites: 0, testResults: [] }
