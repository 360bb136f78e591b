import type { Sequelize } from 'sequelize'
import type { Browsers } from '../browser/browsers.js'
import type { Turns } from './turns.js'

export interface WorkerTools {
  sequelize: Sequelize
  secret: Buffer
  browsers: Browsers
  turns: Turns
  /** True once the worker is to end: what fails from then on is nobody's failure. */
  stopping(): boolean
}
