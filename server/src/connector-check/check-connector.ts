import { READING_CHECKS, type Check } from './reading-checks.js'
import { NotAsExpected, SiteUnderCheck } from './site-under-check.js'
import { WRITING_CHECKS } from './writing-checks.js'

export interface CheckResult {
  says: string
  state: 'passed' | 'failed' | 'not offered'
  why?: string
}

/** Holds a connector against the protocol, check by check. Where it can't describe itself, the rest is not tried. */
export async function checkConnector(
  origin: string,
  key: string,
  write: boolean,
  tell: (result: CheckResult) => void = () => {},
): Promise<CheckResult[]> {
  const site = new SiteUnderCheck(origin, key)
  const results: CheckResult[] = []
  for (const check of [...READING_CHECKS, ...(write ? WRITING_CHECKS : [])]) {
    const result = await runCheck(check, site)
    results.push(result)
    tell(result)
    if (!site.description) break
  }
  return results
}

async function runCheck({ says, call, run }: Check, site: SiteUnderCheck): Promise<CheckResult> {
  if (call && !site.offers(call)) return { says, state: 'not offered' }
  try {
    await run(site)
    return { says, state: 'passed' }
  } catch (error) {
    if (error instanceof NotAsExpected) return { says, state: 'failed', why: error.message }
    const cause = (error as Error & { cause?: Error }).cause?.message
    return { says, state: 'failed', why: `${(error as Error).message}${cause ? ` (${cause})` : ''}` }
  }
}
