import type { INestApplication } from '@nestjs/common'
import { DocumentBuilder, SwaggerModule, type OpenAPIObject } from '@nestjs/swagger'
import { defaultMetadataStorage } from 'class-transformer/cjs/storage.js'
import { validationMetadatasToSchemas } from 'class-validator-jsonschema'

type Schemas = NonNullable<NonNullable<OpenAPIObject['components']>['schemas']>
type SchemaObject = Exclude<Schemas[string], { $ref: string }>

const SCHEMAS = '#/components/schemas/'

const mapOf = (additionalProperties: object) => () => ({ type: 'object' as const, additionalProperties }) as object
/** What the contract's own decorators say. */
const MAPS = {
  isFigures: mapOf({ type: 'number', nullable: true }),
  isFigureLists: mapOf({ type: 'array', items: { type: 'number' } }),
  isTexts: mapOf({ type: 'string' }),
  isProofFigureLists: mapOf({ type: 'array', items: { $ref: `${SCHEMAS}ProofFigure` } }),
  isProofFigures: mapOf({ $ref: `${SCHEMAS}ProofFigure` }),
}

/** What may be missing may be null as well: that is what the validation does, and what answers have. */
function allowNull(schema: SchemaObject): void {
  for (const [name, property] of Object.entries(schema.properties ?? {})) {
    if (schema.required?.includes(name)) continue
    schema.properties![name] =
      '$ref' in property ? { nullable: true, allOf: [property] } : { ...(property as object), nullable: true }
  }
}

/** Ids in paths are whole numbers; Nest knows only that they are numbers. */
function plainParameters(path: object): void {
  for (const operation of Object.values(path) as { parameters?: { schema?: { type?: string } }[] }[])
    for (const { schema } of operation.parameters ?? []) if (schema?.type === 'number') schema.type = 'integer'
}

/** The API description. Its schemas come from the contract's own validation, so that the two can't disagree. */
export function describeApi(app: INestApplication): OpenAPIObject {
  const document = SwaggerModule.createDocument(
    app,
    new DocumentBuilder().setTitle('Unvelt').setVersion('0.1').addServer('/').build(),
  )
  const schemas = validationMetadatasToSchemas({
    classTransformerMetadataStorage: defaultMetadataStorage,
    refPointerPrefix: SCHEMAS,
    additionalConverters: MAPS as NonNullable<
      Parameters<typeof validationMetadatasToSchemas>[0]
    >['additionalConverters'] &
      object,
  }) as Record<string, SchemaObject>
  for (const schema of Object.values(schemas)) allowNull(schema)
  document.components = { ...document.components, schemas }
  for (const path of Object.values(document.paths)) plainParameters(path)
  return document
}
