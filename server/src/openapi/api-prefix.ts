/** Below what the API stands. The addresses at which traces are received and figures are asked for are fixed by others. */
export const API_PREFIX: [prefix: string, options: { exclude: string[] }] = [
  'api',
  { exclude: ['v1/traces', 'metrics'] },
]
