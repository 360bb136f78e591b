import { constants } from 'node:zlib'
import compression from 'compression'
import type { RequestHandler } from 'express'

/** Quick enough that the packing takes less time than a slow line takes for what it spares. */
const BROTLI_QUALITY = 5
const GZIP_LEVEL = 4
/** Below this a packet is not filled either way. */
const LEAST_BYTES = 1_000

/** Answers go packed. What is sent on for as long as somebody listens (server-sent events) goes as it comes. */
export const packed = (): RequestHandler =>
  compression({
    threshold: LEAST_BYTES,
    level: GZIP_LEVEL,
    brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: BROTLI_QUALITY } },
    filter: (request, response) => {
      const type = String(response.getHeader('content-type') ?? '')
      if (type.startsWith('text/event-stream')) return false
      // Columns of figures, which the standard list takes for something packed already.
      return type.startsWith('application/octet-stream') || compression.filter(request, response)
    },
  })
