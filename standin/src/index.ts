export { startStandin, SITE_HOST, type Standin, type StandinOptions } from './standin.js'
export { ADD_ONS } from './add-ons/index.js'
export { countedVisits } from './outsiders/scripts.js'
