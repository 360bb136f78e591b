export * from './gate.js'
export { hashesIn } from './headers.js'
export type { GateSite, Open, Own, Refusal } from './gate-site.js'
