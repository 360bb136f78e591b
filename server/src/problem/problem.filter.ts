import { Catch, HttpException, Logger, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common'
import type { Response } from 'express'
import { ProblemError } from './problem.error.js'

/** Every error leaves as a problem document (RFC 9457); what is nobody's fault but ours is logged and not shown. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  private readonly logger = new Logger('Problem')

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>()
    if (response.headersSent) return void response.end()
    const known = error instanceof HttpException ? error : null
    if (!known) this.logger.error((error as Error)?.stack ?? String(error))
    const status = known?.getStatus() ?? 500
    const body =
      error instanceof ProblemError
        ? error.getResponse()
        : { type: 'about:blank', status, title: known?.message ?? 'Something went wrong in Unvelt itself.' }
    response.status(status).type('application/problem+json').send(JSON.stringify(body))
  }
}
