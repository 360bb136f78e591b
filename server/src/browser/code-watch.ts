import type { CDPSession } from 'playwright-core'
import type { Protocol } from 'devtools-protocol'
import {
  toBytes,
  unite,
  usedOfScript,
  type FileUse,
  type Range,
  type RequestRecord,
  type ScriptTime,
} from '@unvelt/core'
import { responseText } from './response-text.js'

/**
 * How often it is looked what runs. Beside a bare load a page takes 7 % longer with a look each millisecond, 5 % with one in
 * two, 3 % with one in three and none with one in five (`npm run bench -- reading` with these numbers in turn).
 */
const SAMPLE_EVERY_US = 4_000
const MICRO = 1_000

export interface CodeSeen {
  coverage: Protocol.Profiler.ScriptCoverage[]
  /** Null where no times were wanted. */
  profile: Protocol.Profiler.Profile | null
}

/** Has the browser note what code runs and for how long, from before the page begins until it is quiet. */
export class CodeWatch {
  private constructor(
    private readonly session: CDPSession,
    private readonly use: boolean,
    private readonly times: boolean,
  ) {}

  /**
   * @param use Whether to note what code runs: that slows the page a little.
   * @param times Whether to note for how long.
   */
  static async start(session: CDPSession, { use, times }: { use: boolean; times: boolean }): Promise<CodeWatch> {
    await session.send('Profiler.enable')
    await session.send('Profiler.setSamplingInterval', { interval: SAMPLE_EVERY_US })
    if (use) await session.send('Profiler.startPreciseCoverage', { callCount: false, detailed: true })
    if (times) await session.send('Profiler.start')
    return new CodeWatch(session, use, times)
  }

  async stop(): Promise<CodeSeen> {
    const profile = this.times ? (await this.session.send('Profiler.stop')).profile : null
    return { coverage: this.use ? await this.takeCoverage() : [], profile }
  }

  /** Notes once more what runs, from now on. Counts, since what is only marked is told of once and not again. */
  async goOn(): Promise<void> {
    await this.session.send('Profiler.startPreciseCoverage', { callCount: true, detailed: true })
  }

  async takeCoverage(): Promise<CodeSeen['coverage']> {
    const { result } = await this.session.send('Profiler.takePreciseCoverage')
    await this.session.send('Profiler.stopPreciseCoverage')
    return result
  }
}

/** What of each script file has run. A script that came in several frames counts as run where it ran in any. */
export async function scriptUse(
  session: CDPSession,
  coverage: CodeSeen['coverage'],
  requests: readonly RequestRecord[],
): Promise<FileUse[]> {
  const byUrl = new Map<string, Protocol.Profiler.FunctionCoverage[][]>()
  for (const { url, functions } of coverage) if (url) byUrl.set(url, [...(byUrl.get(url) ?? []), functions])
  const uses: FileUse[] = []
  for (const request of requests) {
    const scripts = request.type === 'script' ? byUrl.get(request.url) : undefined
    if (!scripts) continue
    // Of several requests for one address the first one pays for what was never run.
    byUrl.delete(request.url)
    const used = unite(...scripts.map(usedOfScript))
    let length = 0
    for (const { ranges } of scripts.flat()) for (const { endOffset } of ranges) length = Math.max(length, endOffset)
    const inBytes = await rangesInBytes(session, request, used, length)
    if (inBytes) uses.push({ requestId: request.id, used: inBytes })
  }
  return uses
}

/** Ranges in bytes. Only a file that has other than ASCII in it must be looked at for that. */
export async function rangesInBytes(
  session: CDPSession,
  request: RequestRecord,
  used: Range[],
  length: number,
): Promise<Range[] | null> {
  if (request.decodedBytes === length) return used
  const text = await responseText(session, request.id)
  return text === null ? null : toBytes(used, text)
}

/** Main-thread time by the address of the code it was spent in; for code in a page also by its place. */
export function timeByScript(profile: Protocol.Profiler.Profile, documentUrls: ReadonlySet<string>): ScriptTime[] {
  const owners = ownersOf(profile)
  const times = new Map<string, ScriptTime>()
  const { samples = [], timeDeltas = [] } = profile
  let owner: Owner | null = null
  samples.forEach((id, index) => {
    const of: Owner | null | undefined = owners.get(id)
    // Garbage is collected for whoever was at work just before.
    if (of !== GARBAGE) owner = of ?? null
    // A sample stands for the time until the next one.
    const ms = Math.max(0, timeDeltas[index + 1] ?? 0) / MICRO
    if (!owner || ms === 0) return
    const isInPage = documentUrls.has(owner.url)
    const line = isInPage ? owner.line : null
    const key = isInPage ? `${owner.url} ${line} ${owner.column}` : owner.url
    const entry = times.get(key) ?? { url: owner.url, line, ...(isInPage && { column: owner.column }), ms: 0 }
    entry.ms += ms
    times.set(key, entry)
  })
  return [...times.values()]
}

interface Owner {
  url: string
  line: number
  column: number
}

const GARBAGE: Owner = { url: '(garbage collector)', line: 0, column: 0 }

/** Whose code each node of the profile is: its own address, or that of the nearest caller that has one. */
function ownersOf({ nodes }: Protocol.Profiler.Profile): Map<number, Owner | null> {
  const byId = new Map(nodes.map((node) => [node.id, node]))
  const owners = new Map<number, Owner | null>()
  const visit = (node: Protocol.Profiler.ProfileNode, above: Owner | null) => {
    const { url, lineNumber, columnNumber, functionName } = node.callFrame
    const own =
      functionName === '(garbage collector)'
        ? GARBAGE
        : /^(https?|data|blob):/.test(url)
          ? { url, line: lineNumber, column: columnNumber }
          : above
    owners.set(node.id, own)
    for (const child of node.children ?? []) visit(byId.get(child)!, own)
  }
  const [root] = nodes
  if (root) visit(root, null)
  return owners
}
