// What takes longest is tried in turn in CI, a quarter of it each day; `npm test` leaves nothing out. The four take about the same.
export const TURNS = [
  {
    unit: ['cause', 'snapshot', 'steps', 'traces', 'reach', 'deployment', 'sent-steps', 'site-steps', 'in-parts'],
    e2e: ['4-look-further', '9-whose-gain', '10-preview'],
  },
  {
    unit: [
      ...['weigh-in', 'own-trouble', 'connector-check', 'jobs', 'inventory', 'from-outside', 'caches', 'pattern'],
      'live-round',
    ],
    e2e: ['7-retire', '14-net', '28-lower-pictures'],
  },
  {
    unit: [
      ...['worker', 'culprit', 'traps', 'without', 'living-browser', 'lens', 'prediction-pack', 'step-ideas'],
      'marks',
    ],
    e2e: ['6-from-outside', '9-rehearse', '11-weigh-in'],
  },
  {
    unit: [
      ...['rehearsal', 'hostile', 'switch-traps', 'rehearse-page', 'preview', 'net', 'tidy', 'retirement', 'har'],
      'subtraction',
    ],
    e2e: ['6-restless', '25-suggested-steps', '26-what-must-hold'],
  },
]

/** The files of one part that are left to other days; none where nobody asked for turns. */
export function leftToOtherDays(part, turn = process.env.UNVELT_TURN) {
  if (!turn) return []
  return TURNS.flatMap((files, n) => (n === Number(turn) % TURNS.length ? [] : files[part]))
}
