import type { Browser } from 'playwright-core'
import { BrowserUnavailable } from '../queue/own-trouble.js'

/** The browsers of a worker: one that pages share, and one of its own for whoever may have ended the shared one. */
export class Browsers {
  private last: Promise<Browser> | null = null

  constructor(private readonly launch: () => Promise<Browser>) {}

  /** A browser that is alive; a new one when the last has gone. @throws BrowserUnavailable */
  async shared(): Promise<Browser> {
    const { last } = this
    const alive = await last?.catch(() => null)
    if (alive?.isConnected()) return alive
    // Of several that find it gone, the first one starts another.
    if (this.last === last) this.last = this.start()
    return this.last!
  }

  /** Runs something in a browser that nobody else has. */
  async own<T>(run: (browser: Browser) => Promise<T>): Promise<T> {
    const browser = await this.start()
    try {
      return await run(browser)
    } finally {
      await browser.close().catch(() => {})
    }
  }

  async close(): Promise<void> {
    await (await this.last?.catch(() => null))?.close().catch(() => {})
  }

  private start(): Promise<Browser> {
    return this.launch().catch((error: Error) => {
      const [line] = error.message.split('\n')
      const isThere = !/ENOENT|EACCES|doesn't exist/.test(error.message)
      throw new BrowserUnavailable(`The measuring browser can’t be started: ${line!.slice(0, 200)}`, isThere)
    })
  }
}
