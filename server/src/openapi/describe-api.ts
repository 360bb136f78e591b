import type { INestApplication } from '@nestjs/common'
import { DocumentBuilder, SwaggerModule, type OpenAPIObject } from '@nestjs/swagger'
import { defaultMetadataStorage } from 'class-transformer/cjs/storage.js'
import { validationMetadatasToSchemas } from 'class-validator-jsonschema'

/** The API description. Its schemas come from the contract's own validation, so that the two can't disagree. */
export function describeApi(app: INestApplication): OpenAPIObject {
  const document = SwaggerModule.createDocument(
    app,
    new DocumentBuilder().setTitle('Unvelt').setVersion('0.1').addServer('/').build(),
  )
  const schemas = validationMetadatasToSchemas({ classTransformerMetadataStorage: defaultMetadataStorage })
  document.components = {
    ...document.components,
    schemas: schemas as NonNullable<OpenAPIObject['components']>['schemas'],
  }
  return document
}
