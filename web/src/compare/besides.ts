import type { Comparison, ComparisonSide } from '@unvelt/contract'
import { plural } from '../figures/format.js'

const rules = (version: number) => (version === 0 ? 'no rules' : `version ${version}`)

/** What two sweeps differ in besides time, each in a few words. */
export function besides({ then, now, onlyThen, onlyNow }: Comparison): string[] {
  const unlike = (name: string, of: (side: ComparisonSide) => string | number) =>
    of(then) === of(now) ? null : `${name} ${of(then)} against ${of(now)}`
  return [
    unlike('site', ({ site }) => site),
    unlike('lens', ({ lens }) => lens),
    unlike('repeats', ({ repeats }) => repeats),
    unlike('rules:', ({ rulesVersion }) => rules(rulesVersion)),
    onlyThen.length > 0 ? `${plural(onlyThen.length, 'page')} only then, left out` : null,
    onlyNow.length > 0 ? `${plural(onlyNow.length, 'page')} only now, left out` : null,
    ...[then, now].map(({ sweepId, status }) =>
      status === 'running' || status === 'paused' ? `sweep ${sweepId} is not finished` : null,
    ),
  ].flatMap((one) => one ?? [])
}
