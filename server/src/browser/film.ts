import type { CDPSession } from 'playwright-core'

/** A picture of the window, and when it was painted. */
export interface Frame {
  /** Milliseconds since 1970, by the browser's clock. */
  paintedAt: number
  jpeg: Buffer
}

const SHAPE = { format: 'jpeg', quality: 60, maxWidth: 720, maxHeight: 720, everyNthFrame: 1 } as const
/** A page that never stands still is not kept for ever. */
const MOST_FRAMES = 400
const MOST_BYTES = 24e6

/**
 * Takes down what is painted while a page loads, frame by frame. The browser packs each picture while it should paint the next, so
 * what is read meanwhile gives no times.
 */
export class Film {
  readonly frames: Frame[] = []
  private bytes = 0

  private constructor(private readonly session: CDPSession) {
    session.on('Page.screencastFrame', ({ data, metadata, sessionId }) => {
      void session.send('Page.screencastFrameAck', { sessionId }).catch(() => {})
      const jpeg = Buffer.from(data, 'base64')
      if (metadata.timestamp === undefined || this.frames.length >= MOST_FRAMES || this.bytes > MOST_BYTES) return
      this.bytes += jpeg.length
      this.frames.push({ paintedAt: metadata.timestamp * 1000, jpeg })
    })
  }

  static async start(session: CDPSession): Promise<Film> {
    const film = new Film(session)
    await session.send('Page.startScreencast', SHAPE)
    return film
  }

  async end(): Promise<Frame[]> {
    await this.session.send('Page.stopScreencast').catch(() => {})
    return this.frames
  }
}
