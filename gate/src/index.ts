export * from './gate.js'
export type { GateSite, Open, Own, Refusal } from './gate-site.js'
