import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { createServer, get, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { AccessLog } from '../src/http/access-log.js'

let home: string
let server: Server
let log: AccessLog
beforeEach(async () => {
  home = mkdtempSync(join(tmpdir(), 'unvelt-log-'))
  log = new AccessLog(join(home, 'gone/access.log'))
  server = createServer((request, response) => {
    log.watch(request, response)
    response.end('here')
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
})
afterEach(async () => {
  await new Promise((resolve) => server.close(resolve))
  await log.close()
  rmSync(home, { recursive: true })
})

const visit = (path: string) =>
  new Promise<void>((resolve, reject) => {
    const { port } = server.address() as AddressInfo
    get({ port, path, host: '127.0.0.1', agent: false }, (response) => response.resume().on('end', resolve)).on(
      'error',
      reject,
    )
  })

it('serves on where nothing can be written, and writes again once it can', async () => {
  const file = join(home, 'gone/access.log')
  await visit('/lost')
  await visit('/lost-too')
  mkdirSync(dirname(file))
  const written = () => {
    try {
      return readFileSync(file, 'utf8')
    } catch {
      return ''
    }
  }
  for (let n = 0; !written().includes('/kept') && n < 100; n++) await visit('/kept')
  expect(written()).toMatch(/"GET \/kept HTTP\/1\.1" 200/)
})
