import { Controller, Headers, HttpCode, Inject, Post, Req } from '@nestjs/common'
import { ApiExcludeController } from '@nestjs/swagger'
import type { Request } from 'express'
import type PgBoss from 'pg-boss'
import { Sequelize } from 'sequelize'
import { readOtlpTraces } from '@unvelt/core'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { ProblemError } from '../problem/problem.error.js'
import { TAKE_SPANS, type TakeSpansJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { markSpans } from '../reading/mark-spans.js'
import { decodeOtlpProto } from './otlp-proto.js'
import { storeSpans } from './trace-store.js'
import { isSame, siteOfToken } from './trace-token.js'

const MOST_SPANS = 20_000
/** A trace comes in parts: so many seconds are waited for the others. */
const MORE_MAY_COME_S = 3

/** Where sites send the spans of measured requests: OTLP over HTTP, as JSON or protobuf, with their own token, or the one of the instance. */
@ApiExcludeController()
@Controller('v1/traces')
export class TraceController {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(QUEUE) private readonly queue: PgBoss,
  ) {}

  @Post()
  @HttpCode(200)
  async receive(@Req() request: Request, @Headers('authorization') authorization = ''): Promise<object> {
    const site = this.siteThatSends(authorization)
    const read = readOtlpTraces(bodyOf(request))
    if ('problems' in read) {
      const [first] = read.problems
      throw new ProblemError(400, `The trace can’t be read at ${first!.at}: expected ${first!.expected}.`)
    }
    if (read.spans.length > MOST_SPANS) throw new ProblemError(413, `A request may hold at most ${MOST_SPANS} spans.`)
    const { rejectedSpans, traceIds } = await storeSpans(this.sequelize, read.spans, site)
    for (const page of await markSpans(this.sequelize, traceIds))
      await this.queue.send(TAKE_SPANS, page satisfies TakeSpansJob, {
        singletonKey: `${page.sweepId}/${page.pageId}`,
        startAfter: MORE_MAY_COME_S,
      })
    return {
      partialSuccess: rejectedSpans > 0 ? { rejectedSpans, errorMessage: 'These are of another site’s readings.' } : {},
    }
  }

  /** By its token; null for whoever has the one that is good for all sites. */
  private siteThatSends(authorization: string): number | null {
    const token = /^Bearer (.+)$/.exec(authorization)?.[1] ?? ''
    if (isSame(token, this.config.tracesToken)) return null
    const site = siteOfToken(this.config.secret, token)
    if (site === null) throw new ProblemError(401, 'The token for sending traces is missing or wrong.')
    return site
  }
}

function bodyOf(request: Request): unknown {
  if (!Buffer.isBuffer(request.body)) return request.body
  try {
    return decodeOtlpProto(request.body)
  } catch (error) {
    throw new ProblemError(400, `The body is no OTLP protobuf message: ${(error as Error).message}`)
  }
}
