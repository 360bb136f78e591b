// What takes longest is tried in turn in CI, a third of it each day; `npm test` leaves nothing out. The three take about the same.
export const TURNS = [
  {
    unit: [
      ...[
        'rehearsal',
        'hostile',
        'switch-traps',
        'snapshot',
        'steps',
        'rehearse-page',
        'traces',
        'preview',
        'net',
        'tidy',
        'cause',
      ],
      'reach',
    ],
    e2e: ['4-look-further', '6-restless', '10-preview', '26-what-must-hold'],
  },
  {
    unit: [
      ...['weigh-in', 'own-trouble', 'connector-check', 'deployment', 'jobs', 'inventory', 'from-outside', 'caches'],
      ...['sent-steps', 'site-steps', 'pattern', 'live-round'],
    ],
    e2e: ['7-retire', '14-net'],
  },
  {
    unit: [
      ...[
        'worker',
        'culprit',
        'traps',
        'without',
        'living-browser',
        'retirement',
        'lens',
        'subtraction',
        'har',
        'marks',
      ],
      ...['prediction-pack', 'step-ideas'],
    ],
    e2e: ['6-from-outside', '9-rehearse', '11-weigh-in', '25-suggested-steps'],
  },
]

/** The files of one part that are left to other days; none where nobody asked for turns. */
export function leftToOtherDays(part, turn = process.env.UNVELT_TURN) {
  if (!turn) return []
  return TURNS.flatMap((files, n) => (n === Number(turn) % TURNS.length ? [] : files[part]))
}
