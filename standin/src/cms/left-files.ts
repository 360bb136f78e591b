import type { Database } from './database.js'

export interface LeftFile {
  path: string
  owner: string
  bytes: number
}

/** What visitors' browsers could ask for of add-ons that went long ago: files that they had written into the uploads. */
export class LeftFiles {
  private bodies = new Map<string, Buffer>()

  constructor(private readonly database: Database) {}

  async setUp(): Promise<void> {
    await this.database.query(
      'create table if not exists loam_files (path text primary key, owner text not null, body bytea not null)',
    )
    await this.reload()
  }

  async reload(): Promise<void> {
    const rows = await this.database.query<{ path: string; body: Buffer }>('select path, body from loam_files')
    this.bodies = new Map(rows.map(({ path, body }) => [path, body]))
  }

  get(path: string): Buffer | undefined {
    return this.bodies.get(path)
  }

  async write(path: string, owner: string, body: Buffer): Promise<void> {
    await this.database.query('insert into loam_files values ($1, $2, $3) on conflict do nothing', [path, owner, body])
  }

  /** Those of owners that are not there any more. */
  list(here: readonly string[]): Promise<LeftFile[]> {
    return this.database.query<LeftFile>(
      'select path, owner, octet_length(body)::int bytes from loam_files where owner <> all($1) order by path',
      [here],
    )
  }
}
