import { timingSafeEqual } from 'node:crypto'
import { Controller, Headers, HttpCode, Inject, Post, Req } from '@nestjs/common'
import { ApiExcludeController } from '@nestjs/swagger'
import type { Request } from 'express'
import { Sequelize } from 'sequelize'
import { readOtlpTraces } from '@unvelt/core'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { ProblemError } from '../problem/problem.error.js'
import { decodeOtlpProto } from './otlp-proto.js'
import { storeSpans } from './trace-store.js'

const MOST_SPANS = 20_000

/** Where sites send the spans of measured requests: OTLP over HTTP, as JSON or protobuf, with the token they were given. */
@ApiExcludeController()
@Controller('v1/traces')
export class TraceController {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  @Post()
  @HttpCode(200)
  async receive(@Req() request: Request, @Headers('authorization') authorization = ''): Promise<object> {
    if (!same(authorization, `Bearer ${this.config.tracesToken}`))
      throw new ProblemError(401, 'The token for sending traces is missing or wrong.')
    const read = readOtlpTraces(bodyOf(request))
    if ('problems' in read) {
      const [first] = read.problems
      throw new ProblemError(400, `The trace can’t be read at ${first!.at}: expected ${first!.expected}.`)
    }
    if (read.spans.length > MOST_SPANS) throw new ProblemError(413, `A request may hold at most ${MOST_SPANS} spans.`)
    await storeSpans(this.sequelize, read.spans)
    return { partialSuccess: {} }
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

function same(given: string, expected: string): boolean {
  const [a, b] = [Buffer.from(given), Buffer.from(expected)]
  return a.length === b.length && timingSafeEqual(a, b)
}
