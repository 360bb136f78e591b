/** What comes of a guard that fails once a change is live: it is taken back, that is told, or no guard is played. */
export const NETS = ['take-back', 'tell', 'off'] as const
export type Net = (typeof NETS)[number]
