// What takes longest is tried in turn in CI, a part of it each day; `npm test` leaves nothing out. The parts take about the same.
export const TURNS = [
  {
    unit: ['cause', 'snapshot', 'steps', 'traces', 'film'],
    e2e: ['4-look-further', '9-whose-gain', '24-particulars', '34-used-nowhere'],
  },
  {
    unit: ['deployment', 'sent-steps', 'in-parts', 'jobs', 'promises', 'consent'],
    e2e: ['7-retire', '18-what-causes-it', '29-said-and-come'],
  },
  {
    unit: ['weigh-in', 'own-trouble', 'connector-check', 'inventory', 'caches', 'rule-parts', 'cause-of-guard'],
    e2e: ['6-from-outside', '9-rehearse', '26-what-must-hold'],
  },
  {
    unit: ['hostile', 'rehearse-page', 'from-outside', 'picture-look', 'server-reading', 'consent-deeper'],
    e2e: ['6-restless', '8-put-live', '32-consent', '35-asked-first'],
  },
  {
    unit: ['culprit', 'traps', 'without', 'living-browser', 'lens', 'in-its-place'],
    e2e: ['2-trouble', '11-weigh-in', '20-narrow', '25-suggested-steps'],
  },
  {
    unit: ['worker', 'made-copy', 'step-ideas', 'marks', 'preview', 'net', 'site-files', 'agreement'],
    e2e: ['10-preview', '12-retire-three', '28-lower-pictures', '30-what-works'],
  },
  {
    unit: ['switch-traps', 'retirement', 'tidy', 'verify', 'pattern', 'live-round', 'page-set', 'pair'],
    e2e: ['7-closed-copy', '22-files', '31-two-of-twelve'],
  },
  {
    unit: ['rehearsal', 'reach', 'har', 'site-steps', 'subtraction', 'put-off', 'closed-site'],
    e2e: ['3-look-closer', '5-weigh', '14-net', '15-pictures'],
  },
]

/** The files of one part that are left to other days; none where nobody asked for turns. */
export function leftToOtherDays(part, turn = process.env.UNVELT_TURN) {
  if (!turn) return []
  return TURNS.flatMap((files, n) => (n === Number(turn) % TURNS.length ? [] : files[part]))
}
