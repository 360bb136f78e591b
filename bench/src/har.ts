// Reading a large HAR file piece by piece beside JSON.parse of the same file, and the memory that it takes.
import { execFileSync } from 'node:child_process'
import { createReadStream, mkdtempSync, openSync, readFileSync, rmSync, statSync, writeSync, closeSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { HarReader, median } from '@unvelt/core'

const ROUNDS = 5
const folder = mkdtempSync(join(tmpdir(), 'unvelt-bench-har-'))

/** A file as recorders write it: headers by the dozen, and bodies in it. */
function write(name: string, bytes: number): string {
  const path = join(folder, name)
  const file = openSync(path, 'w')
  const header = (n: number) => ({ name: `x-header-${n}`, value: 'some value or other, of a usual length' })
  const text = 'function words(of) { return "a body with \\"quotes\\" and\\n lines" }\n'.repeat(300)
  writeSync(file, '{"log":{"version":"1.2","creator":{"name":"x","version":"1"},"pages":[],"entries":[')
  for (let n = 0, size = 0; size < bytes; n++) {
    const entry = JSON.stringify({
      startedDateTime: new Date(1.7e12 + n * 10).toISOString(),
      time: 12,
      request: {
        method: 'GET',
        url: `https://site.test/file-${n}.js`,
        headers: Array.from({ length: 12 }, (_, h) => header(h)),
      },
      response: {
        status: 200,
        headers: Array.from({ length: 16 }, (_, h) => header(h)),
        content: { size: text.length, mimeType: 'text/javascript', text },
        _transferSize: 9_000,
      },
    })
    size += writeSync(file, (n ? ',' : '') + entry)
  }
  writeSync(file, ']}}')
  closeSync(file)
  return path
}

async function readStreaming(path: string): Promise<number> {
  const reader = new HarReader()
  let most = 0
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 16 })) {
    reader.push(chunk as Buffer)
    most = Math.max(most, process.memoryUsage.rss())
  }
  reader.end()
  return most
}

const [alone] = process.argv.slice(2)
if (alone) {
  const began = performance.now()
  const most = await readStreaming(alone)
  console.log(
    `${(statSync(alone).size / 1e6).toFixed(0)} MB in ${((performance.now() - began) / 1000).toFixed(1)} s; most memory ${(most / 1e6).toFixed(0)} MB (goal 300)`,
  )
  rmSync(folder, { recursive: true, force: true })
  process.exit(0)
}

try {
  const fifty = write('50.har', 50e6)
  const size = statSync(fifty).size / 1e6
  const speeds: Record<'ours' | 'parse', number[]> = { ours: [], parse: [] }
  for (let round = -1; round < ROUNDS; round++) {
    let began = performance.now()
    await readStreaming(fifty)
    const ours = size / ((performance.now() - began) / 1000)
    began = performance.now()
    JSON.parse(readFileSync(fifty, 'utf8'))
    const parse = size / ((performance.now() - began) / 1000)
    if (round >= 0) {
      speeds.ours.push(ours)
      speeds.parse.push(parse)
    }
  }
  console.log(
    `${size.toFixed(0)} MB: ours ${median(speeds.ours).toFixed(0)} MB/s, JSON.parse ${median(speeds.parse).toFixed(0)} MB/s`,
  )
  const large = write('500.har', 500e6)
  // In a process of its own, whose memory nothing else has filled before.
  console.log(execFileSync(process.execPath, [process.argv[1]!, large]).toString().trim())
  console.log(`har ratio=${(median(speeds.ours) / median(speeds.parse)).toFixed(2)} goal=0.5`)
} finally {
  rmSync(folder, { recursive: true, force: true })
}
