export * from './gate.js'
export { scriptHashes } from './headers.js'
export type { GateSite, Open, Own, Refusal } from './gate-site.js'
