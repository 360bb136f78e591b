// Core's rewriter beside other ways of going through HTML, over the stand-in's pages and over one of 5 MB, with 200 rules.
import { Parser } from 'htmlparser2'
import { HTMLRewriter } from 'html-rewriter-wasm'
import { parse, serialize } from 'parse5'
import { RewritingStream } from 'parse5-html-rewriting-stream'
import { request } from 'node:http'
import {
  HtmlRewriter,
  median,
  NO_SOURCES,
  planRewrite,
  type AttributionSources,
  type ResolvedEffect,
} from '@unvelt/core'

const ROUNDS = 7
const CHUNK = 16_384
const site = new URL(process.env.STANDIN_URL!)
const PATHS = [
  '/',
  '/opening-hours',
  '/plan-a-visit',
  '/about',
  '/contact',
  '/events/lantern-evening',
  '/events/seed-swap',
  '/events/dawn-chorus',
]

const pages = await Promise.all(PATHS.map(fetchPage))
const small = pages.map((page) => page.toString('latin1'))
const large = enlarge(small[0]!, 5e6)
const hundred = enlarge(small[0]!, 100e3)

const names = Array.from({ length: 200 }, (_, n) =>
  n < 3 ? ['canopy-slider', 'enquiry-form', 'pass-it-on'][n]! : `add-on-${n}`,
)
const sources: AttributionSources = {
  ...NO_SOURCES,
  ownHosts: [site.host],
  prefixes: names.map((addon) => ({ prefix: `/add-ons/${addon}/`, addon })),
  inline: names.map((addon) => ({ elementId: `${addon}-setup`, addon })),
  outsiders: { 'heronmark.localhost': names[3]! },
}
const effects: ResolvedEffect[] = names.map((addon) => ({
  addon,
  effect: 'leave-out',
  rules: [addon],
  conflictsWith: [],
}))
const plan = planRewrite({ effects, sources, pageUrl: site.href })

/** Each way is given the page as it wants it; what comes over the wire is bytes. */
const asBytes = new Map([...small, large, hundred].map((html) => [html, Buffer.from(html, 'latin1')]))

function core(html: string): number {
  const page = asBytes.get(html)!
  const rewriter = new HtmlRewriter(plan)
  let bytes = 0
  for (let at = 0; at < page.length; at += CHUNK)
    bytes += Buffer.from(rewriter.write(page.toString('latin1', at, at + CHUNK)), 'latin1').length
  return bytes + rewriter.end().length
}

async function wasm(html: string): Promise<number> {
  let bytes = 0
  const rewriter = new HTMLRewriter((chunk) => void (bytes += chunk.length))
  rewriter.on('script', { element: (element) => void (leftOut(element.getAttribute('src')) && element.remove()) })
  rewriter.on('link', { element: (element) => void (leftOut(element.getAttribute('href')) && element.remove()) })
  const data = asBytes.get(html)!
  for (let at = 0; at < data.length; at += CHUNK) await rewriter.write(data.subarray(at, at + CHUNK))
  await rewriter.end()
  rewriter.free()
  return bytes
}

function rewritingStream(html: string): Promise<number> {
  return new Promise((resolve) => {
    const stream = new RewritingStream()
    let bytes = 0
    stream.on('startTag', (tag) => {
      const src = tag.attrs.find((a) => a.name === 'src' || a.name === 'href')?.value ?? null
      if (!leftOut(src)) stream.emitStartTag(tag)
    })
    stream.on('data', (chunk: string) => (bytes += chunk.length))
    stream.on('end', () => resolve(bytes))
    stream.end(html)
  })
}

function tokenizer(html: string): number {
  let tags = 0
  const parser = new Parser({ onopentagname: () => void tags++ })
  for (let at = 0; at < html.length; at += CHUNK) parser.write(html.slice(at, at + CHUNK))
  parser.end()
  return tags
}

function bareScan(html: string): number {
  let found = 0
  for (let at = html.indexOf('<'); at >= 0; at = html.indexOf('<', at + 1)) found++
  return found
}

const leftOut = (address: string | null) =>
  address !== null && names.some((name) => address.startsWith(`/add-ons/${name}/`))

const ways: [string, (html: string) => unknown][] = [
  ['parse5 parse and serialise', (html) => serialize(parse(html)).length],
  ['parse5-html-rewriting-stream', rewritingStream],
  ['htmlparser2 tokenizer', tokenizer],
  ['html-rewriter-wasm', wasm],
  ['core rewriter', core],
  ['bare scan for <', bareScan],
]

const speeds = new Map<string, { pages: number[]; large: number[] }>(
  ways.map(([name]) => [name, { pages: [], large: [] }]),
)
for (let round = -1; round < ROUNDS; round++) {
  for (const [name, way] of ways) {
    const forPages = await timed(async () => {
      for (let n = 0; n < 40; n++) for (const html of small) await way(html)
    })
    const forLarge = await timed(() => way(large))
    if (round < 0) continue
    speeds.get(name)!.pages.push((40 * small.reduce((sum, html) => sum + html.length, 0)) / forPages / 1000)
    speeds.get(name)!.large.push(large.length / forLarge / 1000)
  }
}
console.log(`${'MB/s, median of ' + ROUNDS} ${'pages'.padStart(24)} ${'5 MB'.padStart(8)}`)
for (const [name, { pages: p, large: l }] of speeds)
  console.log(`${name.padEnd(30)} ${median(p).toFixed(1).padStart(12)} ${median(l).toFixed(1).padStart(8)}`)

const added = await timed(() => {
  for (let n = 0; n < 200; n++) core(hundred)
})
console.log(`added to a page of 100 KB: ${(added / 200).toFixed(3)} ms`)
console.log(
  `first byte out after ${firstByteAfter(large)} of ${large.length} bytes in; held back at most ${mostHeldBack(large)} bytes`,
)
/** Documents of 10 MB that mean to cost time, beside a plain one of that size; each whole, and in packets. */
const SIZE = 10_000_000
const filled = (piece: string) => piece.repeat(Math.ceil(SIZE / piece.length)).slice(0, SIZE)
const hostile: Record<string, string> = {
  'tags that never end': filled('<a '),
  'one attribute': `<img src="data:image/png;base64,${'A'.repeat(SIZE)}">`,
  'one tag of many attributes': `<div ${filled('a=b ')}>`,
  'attributes of one name': `<img ${filled('src=/add-ons/canopy-slider/x.png ')}>`,
  'nested elements': filled('<div>'),
  'nested SVG and HTML': filled('<svg><title>'),
  'comments that never end': filled('<!-- '),
  'beginnings of CDATA': `<svg>${filled('<![CDATA[ ')}`,
  'scripts in scripts': `<script>${filled('<!--<script>')}`,
  'a long script': `<script id=x>${filled('a();\n')}</script>`,
  'styles with addresses': `<style>${filled('a{b:url(/add-ons/canopy-slider/x.png)}')}</style>`,
  'style attributes': filled('<p style="background:url(/add-ons/canopy-slider/x.png)">'),
  'sets of pictures': filled('<img srcset="/add-ons/canopy-slider/a 1x, /b 2x">'),
  'one set of pictures': `<img srcset="${filled('/add-ons/canopy-slider/a 1x,')}">`,
  'paths of slashes': filled(`<script src=${'/'.repeat(9_000)}></script>`),
  'long addresses': filled(`<script src=/${'x'.repeat(200_000)}></script>`),
  references: filled('<script src="&amp;&#x41;&notit;&auml;"></script>'),
  templates: filled('<template>'),
  selects: filled('<select><title>'),
  'words in the head': filled('<title>a</title> '),
}
const plain = enlarge(small[0]!, SIZE)
const inPieces = (html: string, size: number) => {
  const rewriter = new HtmlRewriter(plan)
  let bytes = 0
  for (let at = 0; at < html.length; at += size) bytes += rewriter.write(html.slice(at, at + size)).length
  return bytes + rewriter.end().length
}
let worst = 0
for (const size of [SIZE * 2, 16_384, 1_460]) {
  for (const [name, html] of Object.entries(hostile)) {
    // Turn by turn, so that what the machine or the compiler is at falls on both.
    const ratios: number[] = []
    for (let round = 0; round < ROUNDS; round++) {
      const plainMs = await timed(() => inPieces(plain, size))
      ratios.push((await timed(() => inPieces(html, size))) / plainMs)
    }
    const times = median(ratios)
    worst = Math.max(worst, times)
    if (times > 1.5) console.log(`${name}, pieces of ${Math.min(size, SIZE)}: ${times.toFixed(2)} times a plain page`)
  }
}
console.log(
  `the worst of ${Object.keys(hostile).length} hostile documents takes ${worst.toFixed(2)} times a plain one of 10 MB (goal 3)`,
)
const speed = (name: string) => median(speeds.get(name)!.large)
console.log(`ratio to html-rewriter-wasm ${(speed('core rewriter') / speed('html-rewriter-wasm')).toFixed(1)} (goal 2)`)
console.log(`rewrite ratio=${(speed('core rewriter') / speed('parse5 parse and serialise')).toFixed(1)} goal=20`)

async function timed(run: () => unknown): Promise<number> {
  const began = performance.now()
  await run()
  return performance.now() - began
}

function firstByteAfter(html: string): number {
  const rewriter = new HtmlRewriter(plan)
  for (let at = 0; at < html.length; at += 64) if (rewriter.write(html.slice(at, at + 64)) !== '') return at + 64
  return html.length
}

function mostHeldBack(html: string): number {
  const rewriter = new HtmlRewriter({
    ...plan,
    first: '',
    forFile: () => null,
    forInline: () => null,
    forHint: () => null,
  })
  let given = 0
  let most = 0
  for (let at = 0; at < html.length; at += CHUNK) {
    given += rewriter.write(html.slice(at, at + CHUNK)).length
    most = Math.max(most, Math.min(at + CHUNK, html.length) - given)
  }
  return most
}

/** A longer page of the same make: its content again and again, its scripts once. */
function enlarge(html: string, bytes: number): string {
  const from = html.indexOf('<main>')
  const to = html.indexOf('</main>')
  const body = html.slice(from, to)
  return html.slice(0, from) + body.repeat(Math.ceil((bytes - html.length) / body.length) + 1) + html.slice(to)
}

function fetchPage(path: string): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = []
    request({ host: '127.0.0.1', port: site.port, path, headers: { host: site.host } }, (response) => {
      response.on('data', (chunk: Buffer) => chunks.push(chunk))
      response.on('end', () => resolve(Buffer.concat(chunks)))
    })
      .once('error', reject)
      .end()
  })
}
