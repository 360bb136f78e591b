import { UseInterceptors } from '@nestjs/common'
import { ReadyInterceptor } from './ready.interceptor.js'

/**
 * For a call that answers from the database alone: its answer is kept, packed, and sent again until something of its site is
 * written. What of the answer depends on the clock may be a minute old.
 */
export const KeptReady = () => UseInterceptors(ReadyInterceptor)
