import type { Rule } from '@unvelt/core'
import { MadeCopyRow } from '../made-copy/made-copy.model.js'
import { textOf } from '../made-copy/keep-made-copy.js'
import { ConnectorError, type ConnectorClient } from './connector-client.js'

/**
 * Gives the site the copies that rules name, before it is told the rules. A site that has one already keeps it as it is.
 * @throws ConnectorError where one of them was never made for this site
 */
export async function giveCopies(connector: ConnectorClient, siteId: number, rules: readonly Rule[]): Promise<void> {
  const wanted = new Map(
    rules.flatMap(({ copy, file }) => (copy?.content ? [[`${copy.content} ${file}`, copy.content]] : [])),
  )
  if (wanted.size === 0) return
  const rows = await MadeCopyRow.findAll({ where: { siteId, content: [...new Set(wanted.values())] } })
  for (const [key, content] of wanted) {
    const row = rows.find((one) => `${one.content} ${one.file}` === key)
    if (!row)
      throw new ConnectorError(`A rule serves a copy that was never made for this site (${content.slice(0, 20)}…).`)
    const { address, addon, from } = row
    await connector.giveCopy({ address, addon, content, from, body: await textOf(row) })
  }
}
