export * from './gate.js'
export type { GateSite, Open, Refusal } from './gate-site.js'
