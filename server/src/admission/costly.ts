import { applyDecorators, UseGuards } from '@nestjs/common'
import { Throttle, ThrottlerGuard, type ThrottlerModuleOptions } from '@nestjs/throttler'
import type { ExecutionContext } from '@nestjs/common'
import { ProblemError } from '../problem/problem.error.js'

const MINUTE_MS = 60_000

class CostlyGuard extends ThrottlerGuard {
  protected override throwThrottlingException(_: ExecutionContext): Promise<void> {
    throw new ProblemError(429, 'That was asked for too often; please wait a minute.')
  }
}

/** What costs this machine or somebody else's a good deal is done so often a minute for one caller, and no more. */
export const Costly = (timesAMinute: number) =>
  applyDecorators(UseGuards(CostlyGuard), Throttle({ default: { ttl: MINUTE_MS, limit: timesAMinute } }))

export const THROTTLING: ThrottlerModuleOptions = { throttlers: [{ ttl: MINUTE_MS, limit: 10_000 }] }
