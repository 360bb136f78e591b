import type { Handler } from '../http/answer.js'
import { heronmarkCdn, heronmarkCount, petalgridSync } from './heronmark.js'
import { letterloft } from './letterloft.js'
import { SCRIPT_HOSTS } from './scripts.js'
import { trouble } from './trouble.js'

/** The other companies' hosts, each served by the stand-in itself. */
export const OUTSIDERS: Record<string, Handler> = {
  ...SCRIPT_HOSTS,
  'trouble.localhost': trouble,
  'letterloft.localhost': letterloft,
  'pictofont.localhost': letterloft,
  'count.heronmark.localhost': heronmarkCount,
  'cdn.heronmark.localhost': heronmarkCdn,
  'sync.petalgrid.localhost': petalgridSync,
}
