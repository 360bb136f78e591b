// Types of members are told to class-transformer by metadata, for which browsers need the polyfill; only what has such members brings it.
import 'reflect-metadata'
import { Type as typeOf } from 'class-transformer'

/** As class-transformer's own. It is no mere re-export: bundlers would pass over this module, and the polyfill with it. */
export const Type: typeof typeOf = (...about) => typeOf(...about)
