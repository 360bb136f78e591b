// Counting page views of a large log, line by line, beside only reading its lines; and the memory that it takes.
import { createReadStream, closeSync, mkdtempSync, openSync, rmSync, statSync, writeSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { median, ViewCounter } from '@unvelt/core'

const LINES = 2_000_000
const ROUNDS = 3
const folder = mkdtempSync(join(tmpdir(), 'unvelt-bench-logs-'))
const path = join(folder, 'access.log')

const file = openSync(path, 'w')
for (let n = 0; n < LINES; n += 1000) {
  const lines = Array.from({ length: 1000 }, (_, k) => {
    const target = k % 4 ? `/add-ons/part-${k % 90}.js` : `/articles/${k % 300}?from=${k}`
    return `198.51.100.${k % 250} - - [25/Nov/2026:10:00:${String(k % 60).padStart(2, '0')} +0000] "GET ${target} HTTP/1.1" 200 ${k * 7} "https://site.test/" "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Safari/537.36 ${k % 40}"`
  })
  writeSync(file, lines.join('\n') + '\n')
}
closeSync(file)

let most = 0
async function run(take: (line: string) => void): Promise<number> {
  const began = performance.now()
  let n = 0
  for await (const line of createInterface({ input: createReadStream(path), crlfDelay: Infinity })) {
    take(line)
    if (++n % 100_000 === 0) most = Math.max(most, process.memoryUsage.rss())
  }
  return LINES / ((performance.now() - began) / 1000)
}

try {
  const bare: number[] = []
  const counted: number[] = []
  for (let round = 0; round < ROUNDS; round++) {
    bare.push(await run(() => {}))
    most = 0
    const counter = new ViewCounter(
      (p) => p.startsWith('/articles/'),
      (agent) => agent.endsWith(' 7'),
    )
    counted.push(await run((line) => counter.take(line)))
    if (counter.lines !== LINES || counter.bad > 0) throw new Error('the log was not counted whole')
  }
  console.log(
    `${(statSync(path).size / 1e6).toFixed(0)} MB, ${LINES} lines: counted at ${Math.round(median(counted)).toLocaleString('en')} lines/s, only read at ${Math.round(median(bare)).toLocaleString('en')}; most memory ${(most / 1e6).toFixed(0)} MB`,
  )
  console.log(`logs ratio=${(median(counted) / median(bare)).toFixed(2)} goal=0.3`)
} finally {
  rmSync(folder, { recursive: true, force: true })
}
