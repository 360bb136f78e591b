import 'reflect-metadata'
import { NestFactory } from '@nestjs/core'
import type { OpenAPIObject } from '@nestjs/swagger'
import { AppModule } from '../app.module.js'
import { API_PREFIX } from './api-prefix.js'
import { describeApi } from './describe-api.js'

/** The API description without a server: nothing is connected to, and nothing of the application is made. */
export async function describeWithoutRunning(): Promise<OpenAPIObject> {
  const app = await NestFactory.create(AppModule, { preview: true, logger: false, abortOnError: false })
  app.setGlobalPrefix(...API_PREFIX)
  return describeApi(app)
}
