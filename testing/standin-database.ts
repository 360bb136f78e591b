import { startStandin } from '@unvelt/standin'
import { freshDatabase, type TestDatabase } from './fresh-database.js'

/** A database of the stand-in's as it is after its first start, which takes seconds. */
export function standinDatabase(): Promise<TestDatabase> {
  return freshDatabase('standin', async (databaseUrl) => {
    const standin = await startStandin({ port: 0, databaseUrl, connectorKey: 'k' })
    await standin.stop()
  })
}
