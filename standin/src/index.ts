export { startStandin, SITE_HOST, type Standin, type StandinOptions } from './standin.js'
