import {
  Injectable,
  StreamableFile,
  type CallHandler,
  type ExecutionContext,
  type NestInterceptor,
} from '@nestjs/common'
import type { Request, Response } from 'express'
import { firstValueFrom, from, type Observable } from 'rxjs'
import { PackedAnswer, type Encoding } from './packed-answer.js'
import { ReadyAnswers } from './ready-answers.js'

export const HOLDS = 'ready holds'
export type Holds<T = unknown> = (answer: T) => boolean

/** Answers from what is ready, or makes it ready. */
@Injectable()
export class ReadyInterceptor implements NestInterceptor {
  constructor(private readonly answers: ReadyAnswers) {}

  intercept(context: ExecutionContext, next: CallHandler): Observable<StreamableFile | undefined> {
    const http = context.switchToHttp()
    const holds = Reflect.getMetadata(HOLDS, context.getHandler()) as Holds
    return from(this.answer(http.getRequest<Request>(), http.getResponse<Response>(), next, holds))
  }

  private async answer(
    request: Request,
    response: Response,
    next: CallHandler,
    holds: Holds,
  ): Promise<StreamableFile | undefined> {
    const of = request.originalUrl
    const site = Number(request.params.site)
    const answer = await this.answers.get(of, site > 0 ? site : null, async () =>
      packable(await firstValueFrom(next.handle()), holds),
    )
    response.setHeader('etag', answer.etag)
    if (request.fresh) {
      response.status(304)
      return undefined
    }
    const { bytes, encoding } = await answer.as(bestFor(request))
    this.answers.weighAnew(of, answer)
    if (encoding !== 'identity') response.setHeader('content-encoding', encoding)
    return new StreamableFile(bytes, { type: answer.type, length: bytes.length })
  }
}

/** Brotli where it is taken at all: browsers name it last. */
const bestFor = (request: Request): Encoding =>
  (['br', 'gzip'] as const).find((encoding) => request.acceptsEncodings(encoding)) ?? 'identity'

async function packable(value: unknown, holds: Holds): Promise<PackedAnswer> {
  if (!(value instanceof StreamableFile))
    return new PackedAnswer('application/json; charset=utf-8', Buffer.from(JSON.stringify(value)), holds(value))
  const parts: Buffer[] = []
  for await (const part of value.getStream()) parts.push(part as Buffer)
  return new PackedAnswer(value.getHeaders().type ?? 'application/octet-stream', Buffer.concat(parts))
}
