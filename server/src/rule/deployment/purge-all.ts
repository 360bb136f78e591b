import { PageRow } from '../../page/page.model.js'
import type { ConnectorClient } from '../../site-http/connector-client.js'

const PURGED_AT_A_TIME = 500

/** Pages that are kept somewhere must not show what is gone, or lack what is back. */
export async function purgeAll(siteId: number, connector: ConnectorClient): Promise<void> {
  const pages = await PageRow.findAll({ where: { siteId, gone: false }, attributes: ['path'] })
  const paths = pages.map(({ path }) => path)
  for (let n = 0; n < paths.length; n += PURGED_AT_A_TIME) await connector.purge(paths.slice(n, n + PURGED_AT_A_TIME))
}
