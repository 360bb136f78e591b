import { applyDecorators, SetMetadata, UseInterceptors } from '@nestjs/common'
import { HOLDS, ReadyInterceptor, type Holds } from './ready.interceptor.js'

/**
 * For a call that answers from the database alone: its answer is kept, packed, and sent again until something of its site is
 * written. What of the answer depends on the clock may be a minute old.
 * @param holds Tells of an answer that the clock alone may change soon that it is not kept.
 */
export const KeptReady = <T = unknown>(holds: Holds<T> = () => true) =>
  applyDecorators(SetMetadata(HOLDS, holds), UseInterceptors(ReadyInterceptor))
