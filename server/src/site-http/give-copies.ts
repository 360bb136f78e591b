import type { Rule } from '@unvelt/core'
import { MadeCopyRow } from '../made-copy/made-copy.model.js'
import { textOf } from '../made-copy/keep-made-copy.js'
import type { ConnectorClient } from './connector-client.js'

/**
 * Gives the site the copies that rules name, before it is told the rules. A site that has one already keeps it as it is; one that
 * was not made here the site may have all the same, and refuses the rules where it has not.
 */
export async function giveCopies(connector: ConnectorClient, siteId: number, rules: readonly Rule[]): Promise<void> {
  const wanted = new Set(rules.flatMap(({ copy, file }) => (copy?.content ? [`${copy.content} ${file}`] : [])))
  if (wanted.size === 0) return
  const content = [...new Set(rules.flatMap(({ copy }) => copy?.content ?? []))]
  for (const row of await MadeCopyRow.findAll({ where: { siteId, content } }))
    if (wanted.has(`${row.content} ${row.file}`)) {
      const { address, addon, from } = row
      await connector.giveCopy({ address, addon, content: row.content, from, body: await textOf(row) })
    }
}
