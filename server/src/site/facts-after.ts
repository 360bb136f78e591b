import type { Sequelize } from 'sequelize'
import { ConnectorError, type ConnectorClient } from '../site-http/connector-client.js'
import type { SiteRow } from './site.model.js'
import { readFacts, storeFacts } from './store-facts.js'

/**
 * Asks a site what it has after something was done there. That it can't be asked undoes nothing of what was done.
 * @returns what is to be said of that; nothing where all is known.
 */
export async function factsAfter(sequelize: Sequelize, site: SiteRow, connector: ConnectorClient): Promise<string> {
  try {
    const facts = await readFacts(connector, site.connector!)
    await sequelize.transaction((transaction) => storeFacts(sequelize, site, facts, transaction))
    return ''
  } catch (error) {
    if (!(error instanceof ConnectorError)) throw error
    return ` What the site has now could not be asked: ${error.message}`
  }
}
