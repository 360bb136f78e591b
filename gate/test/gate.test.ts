import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { once } from 'node:events'
import { createServer, request as httpRequest, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { brotliCompressSync, brotliDecompressSync, gunzipSync, gzipSync } from 'node:zlib'
import { WebSocket, WebSocketServer } from 'ws'
import { idlePlan, type RewritePlan } from '@unvelt/core'
import { createGate, type GateSite } from '../src/index.js'

const portOf = (server: Server) => (server.address() as AddressInfo).port
const listening = async (server: Server) => {
  server.listen(0, '127.0.0.1')
  await once(server, 'listening')
  return portOf(server)
}

type Answer = (request: IncomingMessage, response: ServerResponse) => void
const answers: Record<string, Answer> = {}
const asked: IncomingMessage[] = []
const opened: string[] = []
const origin = createServer((request, response) => {
  asked.push(request)
  const answer = answers[request.url!.split('?')[0]!]
  if (answer) answer(request, response)
  else response.writeHead(404, { 'content-type': 'text/html' }).end('<p>Not here</p>')
})
let port: number
let site: GateSite
let gate: Server
let at: string

const dropsWidgets = (url: string): RewritePlan => ({
  ...idlePlan(url),
  forFile: (address) => (address.includes('widget') ? { do: 'drop' } : null),
  first: '<script>first()</script>',
  idle: false,
})

beforeAll(async () => {
  port = await listening(origin)
  site = {
    origin: `http://127.0.0.1:${port}`,
    framedBy: 'http://unvelt.test:4600',
    isSafe: true,
    headers: async () => ({ 'unvelt-measure': 'signed' }),
    plan: async (url) => dropsWidgets(url.href),
    triesAgain: async (status) => status === 409,
    opened: (url) => void opened.push(url.pathname),
  }
  gate = createGate(async (host) =>
    host.startsWith('tree.localhost')
      ? site
      : host.startsWith('gone.')
        ? { status: 410, why: 'This preview has run out.' }
        : { status: 404, why: 'No preview has this <name>.' },
  )
  at = `tree.localhost:${await listening(gate)}`
})
afterAll(() => {
  for (const server of [origin, gate]) {
    server.closeAllConnections()
    server.close()
  }
})

interface Got {
  status: number
  headers: IncomingMessage['headers']
  raw: string[]
  body: Buffer
}

function ask(
  path: string,
  { host = at, method = 'GET', headers = {}, body }: { host?: string; method?: string; headers?: Record<string, string>; body?: string } = {}, // prettier-ignore
): Promise<Got> {
  return new Promise((resolve, reject) => {
    const request = httpRequest(
      { port: portOf(gate), host: '127.0.0.1', path, method, headers: { host, accept: 'text/html', ...headers } },
      (answer) => {
        const pieces: Buffer[] = []
        answer.on('data', (piece: Buffer) => pieces.push(piece))
        answer.on('error', reject)
        answer.on('end', () =>
          resolve({
            status: answer.statusCode!,
            headers: answer.headers,
            raw: answer.rawHeaders,
            body: Buffer.concat(pieces),
          }),
        )
      },
    )
    request.on('error', reject)
    request.end(body)
  })
}
const html =
  (body: string, headers: Record<string, string | string[]> = {}): Answer =>
  (_, response) =>
    void response.writeHead(200, { 'content-type': 'text/html; charset=utf-8', ...headers }).end(body)

describe('a page through the gate', () => {
  test('has the rules applied, and its own addresses lead back to the gate', async () => {
    const own = `http://127.0.0.1:${port}`
    answers['/'] = html(
      `<html><head><base href="${own}/"><script src="/widget.js"></script><link rel=stylesheet href="${own}/a.css"></head>` +
        `<body><a href="${own}/walks?x=1#map">Walks</a><a href="//127.0.0.1:${port}">Home</a><a href="https://other.test/">Other</a>` +
        `<form action='${own}/send'><button formaction="${own}/draft">Keep</button></form><img srcset="${own}/a.jpg 1x, b.jpg 2x">` +
        `<div style="background:url(${own}/leaf.png)"></div><meta http-equiv=refresh content="5; url=${own}/next"></body></html>`,
    )
    const { body, headers } = await ask('/')
    const page = body.toString()
    expect(page).not.toContain('widget')
    expect(page).not.toContain(own)
    expect(page).toContain('<script>first()</script>')
    expect(page).toContain(`<a href="http://${at}/walks?x=1#map">`)
    expect(page).toContain(`<a href="http://${at}/">Home`)
    expect(page).toContain('<a href="https://other.test/">')
    expect(page).toContain(`action="http://${at}/send"`)
    expect(page).toContain(`formaction="http://${at}/draft"`)
    expect(page).toContain(`http://${at}/a.jpg 1x, b.jpg 2x`)
    expect(page).toContain(`url(&quot;http://${at}/leaf.png&quot;)`)
    expect(page).toContain(`content="5; url=http://${at}/next"`)
    expect(headers['cache-control']).toBe('no-store')
    expect(headers['content-security-policy']).toBe("frame-ancestors 'self' http://unvelt.test:4600")
    expect(opened.at(-1)).toBe('/')
  })

  test('is asked of the site as from its own host, marked, and never for a copy', async () => {
    answers['/marked'] = html('<p>Hello</p>', { etag: '"one"', 'x-frame-options': 'DENY' })
    const { headers } = await ask('/marked', {
      headers: {
        origin: `http://${at}`,
        referer: `http://${at}/from`,
        'if-none-match': '"one"',
        'sec-fetch-dest': 'iframe',
        'sec-fetch-mode': 'navigate',
        'unvelt-measure': 'forged',
      },
    })
    const got = asked.at(-1)!
    expect(got.headers).toMatchObject({
      host: `127.0.0.1:${port}`,
      origin: `http://127.0.0.1:${port}`,
      referer: `http://127.0.0.1:${port}/from`,
      'unvelt-measure': 'signed',
    })
    expect(got.headers['if-none-match']).toBeUndefined()
    expect(got.headers['sec-fetch-dest']).toBeUndefined()
    expect(headers.etag).toBeUndefined()
    expect(headers['x-frame-options']).toBeUndefined()
  })

  test.each([
    ['gzip', gzipSync, gunzipSync],
    ['br', brotliCompressSync, brotliDecompressSync],
  ])('may be packed by %s', async (coding, pack, unpack) => {
    answers['/packed'] = (_, response) =>
      void response
        .writeHead(200, { 'content-type': 'text/html', 'content-encoding': coding })
        .end(pack(`<p>${'oak '.repeat(30_000)}</p><script src=widget.js></script>`))
    const { body, headers } = await ask('/packed', { headers: { 'accept-encoding': 'gzip, br, zstd' } })
    expect(headers['content-encoding']).toBe(coding)
    expect(asked.at(-1)!.headers['accept-encoding']).not.toContain('zstd')
    const page = unpack(body).toString()
    expect(page).toContain('oak oak')
    expect(page).not.toContain('widget')
  })

  test('that is no HTML of ASCII goes by as it is', async () => {
    const wide = Buffer.from('\ufeff<script src="/widget.js"></script>', 'utf16le')
    answers['/wide'] = (_, response) => void response.writeHead(200, { 'content-type': 'text/html' }).end(wide)
    expect((await ask('/wide')).body).toEqual(wide)
    const data = '{"widget":"http://127.0.0.1/"}'
    answers['/data'] = (_, response) => void response.writeHead(200, { 'content-type': 'application/json' }).end(data)
    expect((await ask('/data')).body.toString()).toBe(data)
  })

  test('keeps its policy, with the gate in the place of the site', async () => {
    answers['/policy'] = html('<p></p>', {
      'content-security-policy': `default-src 'self'; script-src http://127.0.0.1:${port} 'sha256-a'; frame-ancestors 'none'; upgrade-insecure-requests`,
    })
    const { headers } = await ask('/policy')
    const policy = headers['content-security-policy'] as string
    expect(policy).toContain(`script-src http://${at} 'sha256-a' 'sha256-`)
    expect(policy).toContain("frame-ancestors 'self' http://unvelt.test:4600")
    expect(policy).not.toMatch(/'none'|upgrade/)
  })

  test('a policy in the page itself means the gate too, and nothing else of it changes', async () => {
    const said = (policy: string) =>
      `<head><meta http-equiv="Content-Security-Policy" content="${policy}"><meta name="a" content="b">`
    answers['/policy-within'] = html(`<head>${said(`script-src http://127.0.0.1:${port} 'unsafe-inline'; img-src *`)}`)
    const { body } = await ask('/policy-within')
    expect(body.toString()).toContain(said(`script-src http://${at} 'unsafe-inline'; img-src *`))
  })

  test('an error keeps inside too, and has no rules', async () => {
    answers['/broken'] = (_, response) =>
      void response
        .writeHead(500, { 'content-type': 'text/html' })
        .end(`<a href="http://127.0.0.1:${port}/">Home</a><script src="widget.js"></script>`)
    const { status, body } = await ask('/broken')
    expect(status).toBe(500)
    expect(body.toString()).toBe(`<a href="http://${at}/">Home</a><script src="widget.js"></script>`)
  })
})

describe('what goes through', () => {
  test('cookies are those of the gate’s host alone, and redirects stay inside', async () => {
    answers['/go'] = (_, response) =>
      void response
        .writeHead(302, {
          location: `http://127.0.0.1:${port}/there?x=1`,
          'set-cookie': ['a=1; Domain=example.test; Path=/; HttpOnly; SameSite=Lax', 'b=2; Secure'],
        })
        .end()
    const { headers } = await ask('/go')
    expect(headers.location).toBe(`http://${at}/there?x=1`)
    expect(headers['set-cookie']).toEqual(['a=1; Path=/; HttpOnly; SameSite=Lax', 'b=2; Secure'])
    site.isSafe = false
    answers['/plain'] = (_, response) =>
      void response.writeHead(204, { 'set-cookie': 'b=2; Secure; SameSite=None; Path=/' }).end()
    expect((await ask('/plain')).headers['set-cookie']).toEqual(['b=2; Path=/'])
    site.isSafe = true
    answers['/away'] = (_, response) => void response.writeHead(301, { location: 'https://other.test/' }).end()
    expect((await ask('/away')).headers.location).toBe('https://other.test/')
  })

  test('forms, with a length and without', async () => {
    answers['/send'] = (request, response) => {
      const pieces: Buffer[] = []
      request.on('data', (piece: Buffer) => pieces.push(piece))
      request.on('end', () => response.end(Buffer.concat(pieces)))
    }
    const body = 'name=Oak&words=' + 'x'.repeat(200_000)
    expect((await ask('/send', { method: 'POST', body })).body.toString()).toBe(body)
    const length = String(Buffer.byteLength(body))
    const counted = await ask('/send', { method: 'POST', body, headers: { 'content-length': length } })
    expect(counted.body.toString()).toBe(body)
    expect(asked.at(-1)!.headers['content-length']).toBe(length)
  })

  test('HEAD and ranges', async () => {
    answers['/page'] = html('<p>Page</p>', { 'content-length': '11' })
    const head = await ask('/page', { method: 'HEAD' })
    expect([head.status, head.body.length, head.headers['content-length']]).toEqual([200, 0, undefined])
    answers['/film'] = (request, response) =>
      void response
        .writeHead(206, { 'content-type': 'video/mp4', 'content-range': 'bytes 2-3/9', 'content-length': '2' })
        .end(request.headers.range === 'bytes=2-3' ? 'ok' : 'no')
    const film = await ask('/film', {
      headers: { range: 'bytes=2-3', accept: '*/*', 'sec-fetch-mode': 'no-cors' },
    })
    expect([film.status, film.headers['content-range'], film.body.toString()]).toEqual([206, 'bytes 2-3/9', 'ok'])
  })

  test('websockets, either way', async () => {
    const sockets = new WebSocketServer({ server: origin, path: '/socket' })
    sockets.on('connection', (socket, { headers }) => {
      socket.on('message', (said) => socket.send(`${String(said)} from ${headers.origin}`))
    })
    const socket = new WebSocket(`ws://127.0.0.1:${portOf(gate)}/socket`, {
      headers: { host: at, origin: `http://${at}` },
    })
    await once(socket, 'open')
    socket.send('hello')
    const [said] = (await once(socket, 'message')) as [Buffer]
    expect(String(said)).toBe(`hello from http://127.0.0.1:${port}`)
    socket.close()
    await once(socket, 'close')
    sockets.close()
  })

  test('a piece of a page goes on before the next has come', async () => {
    let goOn: () => void = () => {}
    answers['/slow'] = (_, response) => {
      response.writeHead(200, { 'content-type': 'text/html' })
      response.write('<html><body><p>First</p>')
      goOn = () => response.end('<p>Second</p>')
    }
    const said = await new Promise<string>((resolve, reject) => {
      const request = httpRequest(
        { port: portOf(gate), host: '127.0.0.1', path: '/slow', headers: { host: at, accept: 'text/html' } },
        (answer) => {
          let all = ''
          answer.on('data', (piece: Buffer) => {
            all += piece.toString()
            if (all.includes('First')) goOn()
          })
          answer.on('end', () => resolve(all))
        },
      )
      request.on('error', reject).end()
    })
    expect(said).toContain('<p>Second</p>')
  })

  test('who reads slowly holds the site up, and not the gate’s memory', async () => {
    let written = 0
    let isStalled: () => void = () => {}
    const stalled = new Promise<void>((resolve) => (isStalled = resolve))
    const piece = Buffer.from(`<p>${'oak '.repeat(16_000)}</p>`)
    answers['/endless'] = (_, response) => {
      response.writeHead(200, { 'content-type': 'text/html' })
      const more = () => {
        while (written < 200e6) {
          written += piece.length
          if (response.write(piece)) continue
          const told = setTimeout(isStalled, 1_500)
          response.once('drain', () => {
            clearTimeout(told)
            more()
          })
          return
        }
        response.end()
      }
      more()
    }
    const request = httpRequest({ port: portOf(gate), host: '127.0.0.1', path: '/endless', headers: { host: at, accept: 'text/html' } }) // prettier-ignore
    request.on('error', () => {})
    request.end()
    const [answer] = (await once(request, 'response')) as [IncomingMessage]
    answer.pause()
    await stalled
    expect(written).toBeLessThan(60e6)
    answer.destroy()
  })
})

describe('what goes wrong', () => {
  test('an answer that breaks off is no whole one', async () => {
    answers['/cut'] = (_, response) => {
      response.writeHead(200, { 'content-type': 'text/html', 'content-length': '1000' })
      response.write('<p>Half', () => response.destroy())
    }
    await expect(ask('/cut')).rejects.toThrow(/aborted|hang up|reset/i)
  })

  test('who goes away takes the question to the site along', async () => {
    const gone = new Promise<void>((resolve) => {
      answers['/wait'] = (request) => void request.on('close', () => resolve())
    })
    const request = httpRequest({ port: portOf(gate), host: '127.0.0.1', path: '/wait', headers: { host: at } })
    request.on('error', () => {})
    request.end()
    while (asked.at(-1)?.url !== '/wait') await new Promise((resolve) => setImmediate(resolve))
    request.destroy()
    await gone
  })

  test('a site that is away, a name that means nothing, one that ran out, and a loop', async () => {
    const here = site.origin
    site.origin = 'http://127.0.0.1:1'
    const away = await ask('/')
    site.origin = here
    expect([away.status, away.body.toString()]).toEqual([502, expect.stringContaining('gave no answer')])
    const unknown = await ask('/', { host: 'other.localhost' })
    expect(unknown.status).toBe(404)
    expect(unknown.body.toString()).toContain('this &#60;name&#62;')
    expect((await ask('/', { host: 'gone.localhost' })).status).toBe(410)
    expect((await ask('/', { headers: { via: '1.1 unvelt-gate' } })).status).toBe(508)
  })

  test('an answer that asks for it is tried again, once', async () => {
    let times = 0
    answers['/again'] = (_, response) =>
      void response.writeHead(times++ < 1 ? 409 : 200, { 'content-type': 'text/plain' }).end('there')
    expect((await ask('/again')).status).toBe(200)
    times = -5
    expect((await ask('/again')).status).toBe(409)
    expect(times).toBe(-3)
  })
})
