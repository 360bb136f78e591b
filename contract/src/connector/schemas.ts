import { defaultMetadataStorage } from 'class-transformer/cjs/storage.js'
import { validationMetadatasToSchemas } from 'class-validator-jsonschema'
import {
  ActionsAnswer,
  AddOnRemovedAnswer,
  AddOnStateAnswer,
  AssetsAnswer,
  ConnectorDescription,
  CopiesAnswer,
  CopyGivenAnswer,
  ConnectorProblem,
  DraftsKeptAnswer,
  DraftsRemovedAnswer,
  InventoryAnswer,
  PagesAnswer,
  PurgeAnswer,
  ScratchAnswer,
  ScratchRemovedAnswer,
  ShelfAnswer,
  UseEvidenceAnswer,
  VersionAnswer,
  WarmAnswer,
} from './connector-answers.js'
import { CompactedAnswer, KeepingsAnswer, KeepingsRemovedAnswer } from './keeping-answers.js'
import { LeftoversAnswer, LeftoversRemovedAnswer } from './leftover-answers.js'
import { RestoredAnswer, SnapshotAnswer, SnapshotInsideAnswer, SnapshotsAnswer } from './snapshot-answers.js'

export interface ConnectorCall {
  /** `METHOD /path` below the base; `*` stands for a name. */
  call: string
  /** File name of the answer's schema. */
  schema: string
  answer: new () => object
}

/** Every call of the connector protocol whose answer is JSON, with what it answers. */
export const CONNECTOR_CALLS: ConnectorCall[] = [
  { call: 'GET /.well-known/unvelt-connector', schema: 'description', answer: ConnectorDescription },
  { call: 'GET /inventory', schema: 'inventory', answer: InventoryAnswer },
  { call: 'GET /pages', schema: 'pages', answer: PagesAnswer },
  { call: 'GET /assets', schema: 'assets', answer: AssetsAnswer },
  { call: 'GET /use-evidence', schema: 'use-evidence', answer: UseEvidenceAnswer },
  { call: 'PUT /rules', schema: 'rules-version', answer: VersionAnswer },
  { call: 'POST /drafts', schema: 'drafts-kept', answer: DraftsKeptAnswer },
  { call: 'POST /drafts/remove', schema: 'drafts-removed', answer: DraftsRemovedAnswer },
  { call: 'GET /copies', schema: 'copies', answer: CopiesAnswer },
  { call: 'POST /copies', schema: 'copy-given', answer: CopyGivenAnswer },
  { call: 'GET /shelf', schema: 'shelf', answer: ShelfAnswer },
  { call: 'POST /purge', schema: 'purged', answer: PurgeAnswer },
  { call: 'POST /warm', schema: 'warmed', answer: WarmAnswer },
  { call: 'PUT /add-ons/*/features', schema: 'add-on-state', answer: AddOnStateAnswer },
  { call: 'PUT /add-ons/*/active', schema: 'add-on-state', answer: AddOnStateAnswer },
  { call: 'POST /add-ons/*/install', schema: 'add-on-state', answer: AddOnStateAnswer },
  { call: 'DELETE /add-ons/*', schema: 'add-on-removed', answer: AddOnRemovedAnswer },
  { call: 'GET /snapshots', schema: 'snapshots', answer: SnapshotsAnswer },
  { call: 'POST /snapshots', schema: 'snapshot', answer: SnapshotAnswer },
  { call: 'GET /snapshots/*', schema: 'snapshot-inside', answer: SnapshotInsideAnswer },
  { call: 'POST /snapshots/*/restore', schema: 'restored', answer: RestoredAnswer },
  { call: 'GET /leftovers', schema: 'leftovers', answer: LeftoversAnswer },
  { call: 'POST /leftovers/remove', schema: 'leftovers-removed', answer: LeftoversRemovedAnswer },
  { call: 'GET /keepings', schema: 'keepings', answer: KeepingsAnswer },
  { call: 'POST /keepings/remove', schema: 'keepings-removed', answer: KeepingsRemovedAnswer },
  { call: 'POST /tables/compact', schema: 'compacted', answer: CompactedAnswer },
  { call: 'GET /actions', schema: 'actions', answer: ActionsAnswer },
  { call: 'POST /scratch', schema: 'scratch-page', answer: ScratchAnswer },
  { call: 'POST /scratch/remove', schema: 'scratch-removed', answer: ScratchRemovedAnswer },
]

type Schema = Record<string, unknown>

/** ISO 8601: a day, or a moment. */
const DATE_OR_TIME = '^\\d{4}-[01]\\d-[0-3]\\d(T[0-2]\\d:[0-5]\\d.*)?$'

/** File name → JSON Schema (draft 2020-12) of every answer, each complete in itself. */
export function connectorSchemas(): Record<string, Schema> {
  const all = validationMetadatasToSchemas({
    classTransformerMetadataStorage: defaultMetadataStorage,
    refPointerPrefix: '#/$defs/',
    additionalConverters: { isDateString: { type: 'string', pattern: DATE_OR_TIME } },
  }) as Record<string, Schema>
  const named = [...CONNECTOR_CALLS, { schema: 'problem', answer: ConnectorProblem }]
  return Object.fromEntries(named.map(({ schema, answer }) => [`${schema}.schema.json`, standalone(answer.name, all)]))
}

function standalone(name: string, all: Record<string, Schema>): Schema {
  const defs: Record<string, Schema> = {}
  const visit = (value: unknown): void => {
    if (Array.isArray(value)) value.forEach(visit)
    else if (typeof value === 'object' && value !== null)
      for (const [key, inner] of Object.entries(value)) {
        const [, ref] = key === '$ref' && typeof inner === 'string' ? (/^#\/\$defs\/(.+)$/.exec(inner) ?? []) : []
        if (ref === undefined) visit(inner)
        else if (!(ref in defs)) {
          defs[ref] = orNull(all[ref]!)
          visit(defs[ref])
        }
      }
  }
  const schema = orNull(all[name]!)
  visit(schema)
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: name,
    ...schema,
    ...(Object.keys(defs).length > 0 && { $defs: defs }),
  }
}

/** What may be left out may be null as well; the validation classes mean both by optional. */
function orNull(schema: Schema): Schema {
  const required = (schema.required as string[] | undefined) ?? []
  const properties = (schema.properties as Record<string, Schema> | undefined) ?? {}
  return {
    ...schema,
    properties: Object.fromEntries(
      Object.entries(properties).map(([key, value]) => [
        key,
        required.includes(key) ? value : { anyOf: [value, { type: 'null' }] },
      ]),
    ),
  }
}
