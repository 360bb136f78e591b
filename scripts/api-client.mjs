// npm run api-client -- FILE: writes the types of a client of Unvelt's API, made from its own description.
import 'reflect-metadata'
import { mkdirSync, writeFileSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import openapiTS, { astToString } from 'openapi-typescript'
import { describeWithoutRunning } from '../server/dist/openapi/describe-without-running.js'

const [file] = process.argv.slice(2)
if (!file) {
  console.error('npm run api-client -- FILE: expected a file to write to.')
  process.exit(1)
}
const types = astToString(await openapiTS(await describeWithoutRunning()))
mkdirSync(dirname(resolve(file)), { recursive: true })
writeFileSync(resolve(file), types)
