// npm run schemas: writes the JSON Schemas of the connector protocol anew, from the contract's validation classes.
import 'reflect-metadata'
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { format, resolveConfig } from 'prettier'
import { connectorSchemas } from '@unvelt/contract/schemas'
import { ROOT } from './lib/workspace.mjs'

for (const [name, schema] of Object.entries(connectorSchemas())) {
  const file = join(ROOT, 'contract/schemas', name)
  writeFileSync(file, await format(JSON.stringify(schema), { ...(await resolveConfig(file)), parser: 'json' }))
}
