import { parseRuleFile, RULES_FORMAT, type Rule } from '@unvelt/core'
import type { Database } from './database.js'

export class StaleVersionError extends Error {
  constructor(readonly current: number) {
    super(`The live rules are at version ${current}.`)
  }
}

/** The rules this site obeys. Every version is kept, so that one request can be made under an older one. */
export class RuleStore {
  private current: { version: number; rules: Rule[] } = { version: 0, rules: [] }

  constructor(private readonly database: Database) {}

  async setUp(): Promise<void> {
    await this.database.query(
      'create table if not exists unvelt_rules (version integer primary key, rules jsonb not null, put_at timestamptz not null default now())',
    )
    const [latest] = await this.database.query<{ version: number; rules: unknown }>(
      'select version, rules from unvelt_rules order by version desc limit 1',
    )
    if (latest) this.current = { version: latest.version, rules: this.read(latest.rules) }
  }

  get live(): { version: number; rules: Rule[] } {
    return this.current
  }

  /** The rules of one version; none for version 0. Undefined for a version that never was. */
  async at(version: number): Promise<Rule[] | undefined> {
    if (version === 0) return []
    if (version === this.current.version) return this.current.rules
    const [row] = await this.database.query<{ rules: unknown }>('select rules from unvelt_rules where version = $1', [
      version,
    ])
    return row && this.read(row.rules)
  }

  /** Puts new rules live. Of two at once, the primary key lets one win and the other is told that it is stale. */
  async put(rules: Rule[], expected: number): Promise<number> {
    if (expected !== this.current.version) throw new StaleVersionError(this.current.version)
    const version = expected + 1
    const stored = await this.database.query(
      'insert into unvelt_rules (version, rules) values ($1, $2) on conflict do nothing returning version',
      [version, JSON.stringify(rules)],
    )
    if (stored.length === 0) throw new StaleVersionError(this.current.version)
    this.current = { version, rules }
    return version
  }

  private read(rules: unknown): Rule[] {
    const parsed = parseRuleFile({ format: RULES_FORMAT, rules })
    return 'file' in parsed ? parsed.file.rules : []
  }
}
