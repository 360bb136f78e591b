import { NO_SOURCES, type Reading, type RequestRecord } from '@unvelt/core'

/** Add-ons of a made-up site, told apart by their folders. */
export const SOURCES = {
  ...NO_SOURCES,
  ownHosts: ['site.test'],
  prefixes: ['slider', 'share', 'guestbook'].map((addon) => ({ prefix: `/kit/${addon}/`, addon })),
}

const request = (id: string, url: string, bytes: number): RequestRecord =>
  ({
    id,
    url,
    method: 'GET',
    type: id === 'page' ? 'document' : 'script',
    status: 200,
    fromCache: false,
    transferBytes: bytes,
    decodedBytes: bytes,
    responseHeaders: {},
    initiator: id === 'page' ? { type: 'other' } : { type: 'parser', url: 'http://site.test/' },
    timings: { start: 0, responseStart: 1, end: 2 },
  }) as unknown as RequestRecord

/** What a page is that loads a script of so many bytes of each add-on, by a tag. */
export const aReading = (loads: Record<string, number>): Reading =>
  ({
    url: 'http://site.test/',
    finalUrl: 'http://site.test/',
    title: '',
    requests: [
      request('page', 'http://site.test/', 5_000),
      ...Object.entries(loads).map(([addon, bytes]) => request(addon, `http://site.test/kit/${addon}/a.js`, bytes)),
    ],
    inlineCode: [],
    serverTiming: [],
    timings: {},
    domElements: [],
    fileUse: [],
    steps: [],
    laterUse: [],
    companions: [],
    elementMakers: [],
    mainThread: [],
    fonts: [],
    traceId: null,
    rulesVersion: null,
    consoleErrors: [],
  }) as unknown as Reading
