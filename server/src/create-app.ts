import 'reflect-metadata'
import { NestFactory } from '@nestjs/core'
import type { NestExpressApplication } from '@nestjs/platform-express'
import type { OpenAPIObject } from '@nestjs/swagger'
import type { Request, Response } from 'express'
import { admission } from './admission/admission.js'
import { costlyCalls } from './admission/costly-calls.js'
import { securityHeaders } from './admission/security-headers.js'
import { AppModule } from './app.module.js'
import { CONFIG } from './config/config.module.js'
import type { Config } from './config/config.js'
import { nestLog, setLogLevel } from './log/log.js'
import { requestLog } from './log/request-log.js'
import { API_PREFIX } from './openapi/api-prefix.js'
import { describeApi } from './openapi/describe-api.js'
import { refuseDeepBody } from './problem/body-depth.js'
import { PreviewService } from './preview/preview.service.js'
import { ProblemFilter } from './problem/problem.filter.js'
import { packed } from './web-files/packed.js'
import { accessBook } from './site-http/access-book.js'
import { findAccessBy } from './site-http/site-access.js'
import { findWaysBy } from './site-http/site-way.js'
import { wayBook } from './site-http/way-book.js'
import { serveWeb } from './web-files/serve-web.js'
import { validation } from './problem/validation.js'

/** The server, ready to listen: the API below /api, and the web application for every other address. */
export async function createApp(): Promise<NestExpressApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule, {
    logger: nestLog,
    abortOnError: false,
    // Whoever holds a connection open doesn't hold up the end.
    forceCloseConnections: true,
  })
  const { webFolder, hosts, logLevel, secret } = app.get<Config>(CONFIG)
  setLogLevel(logLevel)
  findAccessBy(accessBook(secret))
  findWaysBy(wayBook())
  app.disable('x-powered-by')
  app.use(
    requestLog,
    packed(),
    ...securityHeaders(() => app.get(PreviewService).origins),
    admission(hosts),
    costlyCalls(),
  )
  app.setGlobalPrefix(...API_PREFIX)
  app.useGlobalPipes(validation())
  app.useGlobalFilters(new ProblemFilter())
  // Nest hands on what it is given; only its types leave `verify` out.
  app.useBodyParser('json', { limit: '4mb', verify: refuseDeepBody } as { limit: string })
  app.useBodyParser('raw', { limit: '4mb', type: 'application/x-protobuf' })
  app.enableShutdownHooks()
  // Made when it is asked for: it takes about as long as all the rest of a start.
  let description: OpenAPIObject | undefined
  app.use('/api/openapi.json', (_request: Request, response: Response) => {
    response.json((description ??= describeApi(app)))
  })
  if (webFolder) app.use(serveWeb(webFolder))
  return app
}
