import 'reflect-metadata'
import { siteOrigin } from '../site/site-address.js'
import { whyUnreachable } from '../site-http/site-fetch.js'
import { checkConnector } from './check-connector.js'

const USAGE = 'Usage: npm run connector-check -- URL [--key KEY] [--write]\nThe key may also stand in CONNECTOR_KEY.'

const args = process.argv.slice(2)
const at = args.indexOf('--key')
const key = at >= 0 ? (args[at + 1] ?? '') : (process.env.CONNECTOR_KEY ?? '')
const url = args.find((arg, n) => !arg.startsWith('--') && n !== at + 1)
if (!url) {
  console.error(USAGE)
  process.exit(2)
}
try {
  const origin = siteOrigin(url)
  console.log(`Checking the connector of ${origin}${args.includes('--write') ? ', writing too' : ''}`)
  const results = await checkConnector(origin, key, args.includes('--write'), ({ says, state, why }) =>
    console.log(
      `${{ passed: '  passed     ', failed: '  FAILED     ', 'not offered': '  not offered' }[state]} ${says}${why ? `: ${why}` : ''}`,
    ),
  )
  const count = (state: string) => results.filter((result) => result.state === state).length
  console.log(`${count('passed')} passed, ${count('failed')} failed, ${count('not offered')} not offered`)
  process.exitCode = count('failed') > 0 ? 1 : 0
} catch (error) {
  console.error(whyUnreachable(error, url))
  process.exitCode = 1
}
