import { EventEmitter } from 'node:events'
import type { CDPSession } from 'playwright-core'
import { RequestRecorder } from '../src/browser/request-recorder.js'

/** The browser's side: what it tells of each request. */
let browser: EventEmitter
let recorder: RequestRecorder
let clock: number
beforeEach(() => {
  browser = new EventEmitter()
  recorder = new RequestRecorder(browser as unknown as CDPSession, 'main', () => {})
  clock = 100
})

const url = (name: string) => `http://a.example/${name}`
const ask = (name: string, type = 'Ping') =>
  browser.emit('Network.requestWillBeSent', {
    requestId: name,
    request: { url: url(name), method: 'GET', initialPriority: 'Low' },
    type,
    frameId: 'main',
    documentURL: url('page'),
    initiator: { type: 'script' },
    timestamp: clock++,
  })
const come = (name: string, bytes: number) => {
  browser.emit('Network.dataReceived', { requestId: name, dataLength: bytes, encodedDataLength: bytes })
  browser.emit('Network.loadingFinished', { requestId: name, timestamp: clock++, encodedDataLength: bytes })
}
const taken = () =>
  recorder.take().map(({ url, transferBytes, endedMs }) => [url.split('/').at(-1), transferBytes, endedMs !== null])

it('leaves over what begins after the line, and its bytes', () => {
  ask('page', 'Document')
  come('page', 900)
  ask('early')
  recorder.drawLine()
  ask('late')
  browser.emit('Network.dataReceived', { requestId: 'late', dataLength: 3, encodedDataLength: 3 })
  expect(taken()).toEqual([
    ['page', 900, true],
    ['early', 0, false],
  ])
  // Of what was taken while it was under way, the rest is nobody's.
  come('early', 40)
  come('late', 70)
  ask('later')
  expect(taken()).toEqual([
    ['late', 70, true],
    ['later', 0, false],
  ])
  expect(taken()).toEqual([])
})

it('takes all there is where no line is drawn, with the bytes that came so far', () => {
  ask('page', 'Document')
  browser.emit('Network.responseReceivedExtraInfo', {
    requestId: 'page',
    headersText: 'x'.repeat(120),
    statusCode: 200,
  })
  browser.emit('Network.dataReceived', { requestId: 'page', dataLength: 500, encodedDataLength: 200 })
  expect(taken()).toEqual([['page', 320, false]])
})
