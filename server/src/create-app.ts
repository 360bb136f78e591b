import 'reflect-metadata'
import { join } from 'node:path'
import { NestFactory } from '@nestjs/core'
import type { NestExpressApplication } from '@nestjs/platform-express'
import type { NextFunction, Request, Response } from 'express'
import { AppModule } from './app.module.js'
import { CONFIG } from './config/config.module.js'
import type { Config } from './config/config.js'
import { describeApi } from './openapi/describe-api.js'
import { ProblemFilter } from './problem/problem.filter.js'
import { validation } from './problem/validation.js'

/** The server, ready to listen: the API below /api, and the web application for every other address. */
export async function createApp(): Promise<NestExpressApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule, {
    logger: ['error', 'warn'],
    abortOnError: false,
  })
  // The address at which traces are received is fixed by their protocol.
  app.setGlobalPrefix('api', { exclude: ['v1/traces'] })
  app.useGlobalPipes(validation())
  app.useGlobalFilters(new ProblemFilter())
  app.useBodyParser('json', { limit: '4mb' })
  app.useBodyParser('raw', { limit: '4mb', type: 'application/x-protobuf' })
  app.enableShutdownHooks()
  app.use(refuseOtherOrigins)
  const description = describeApi(app)
  app.use('/api/openapi.json', (_request: Request, response: Response) => void response.json(description))
  const { webFolder } = app.get<Config>(CONFIG)
  if (webFolder) serveWeb(app, webFolder)
  return app
}

/** A page of a measured site must not be able to press Unvelt's buttons from the maintainer's own browser. */
function refuseOtherOrigins(request: Request, response: Response, next: NextFunction): void {
  const { origin, host } = request.headers
  const safe = request.method === 'GET' || request.method === 'HEAD'
  if (safe || origin === undefined || (URL.canParse(origin) && new URL(origin).host === host)) return next()
  response
    .status(403)
    .type('application/problem+json')
    .send(JSON.stringify({ type: 'about:blank', status: 403, title: 'Requests from other sites are refused.' }))
}

function serveWeb(app: NestExpressApplication, folder: string): void {
  app.useStaticAssets(folder, { index: false, setHeaders: (response, path) => cacheByHash(response, path) })
  app.use((request: Request, response: Response, next: NextFunction) => {
    if (request.method !== 'GET' || request.path.startsWith('/api/') || /\.[a-z0-9]+$/i.test(request.path))
      return next()
    response.set('cache-control', 'no-cache')
    response.sendFile(join(folder, 'index.html'))
  })
}

/** The build puts a hash into the names of its assets, so that they may be kept for ever. */
function cacheByHash(response: { setHeader(name: string, value: string): unknown }, path: string): void {
  response.setHeader('cache-control', /\/assets\//.test(path) ? 'public, max-age=31536000, immutable' : 'no-cache')
}
