// What takes longest is tried in turn in CI, a part of it each day; `npm test` leaves nothing out. The parts take about the same.
export const TURNS = [
  {
    unit: ['cause', 'snapshot', 'steps', 'traces', 'reach', 'har', 'film'],
    e2e: ['4-look-further', '9-whose-gain', '20-narrow'],
  },
  {
    unit: ['deployment', 'sent-steps', 'site-steps', 'in-parts', 'jobs', 'subtraction', 'put-off'],
    e2e: ['7-retire', '14-net', '18-what-causes-it'],
  },
  {
    unit: ['weigh-in', 'own-trouble', 'connector-check', 'inventory', 'caches', 'pattern', 'live-round', 'verify'],
    e2e: ['2-trouble', '6-from-outside', '9-rehearse'],
  },
  {
    unit: ['hostile', 'switch-traps', 'rehearse-page', 'from-outside', 'picture-look', 'closed-site'],
    e2e: ['6-restless', '26-what-must-hold'],
  },
  {
    unit: ['culprit', 'traps', 'without', 'living-browser', 'lens', 'retirement', 'tidy'],
    e2e: ['3-look-closer', '11-weigh-in', '12-retire-three', '25-suggested-steps'],
  },
  {
    unit: ['worker', 'step-ideas', 'marks', 'rehearsal', 'preview', 'net', 'site-files'],
    e2e: ['7-closed-copy', '10-preview', '22-files', '28-lower-pictures'],
  },
]

/** The files of one part that are left to other days; none where nobody asked for turns. */
export function leftToOtherDays(part, turn = process.env.UNVELT_TURN) {
  if (!turn) return []
  return TURNS.flatMap((files, n) => (n === Number(turn) % TURNS.length ? [] : files[part]))
}
