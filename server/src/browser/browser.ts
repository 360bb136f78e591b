import { chromium, type Browser } from 'playwright-core'
import { log } from '../log/log.js'

const FEATURES_OFF = [
  // Frames of other hosts stay in one process, so that one protocol session sees every request.
  'IsolateOrigins',
  'site-per-process',
  // With each page the browser would load two of its own for its address bar, beside the load that is timed: some 1.4 s of a
  // processor's time for every reading.
  'WebUIOmniboxPopup',
  'WebUIOmniboxAimPopup',
  'PreloadTopChromeWebUI',
  'AimEnabled',
  'LensOverlay',
  // A page is asked for as its address says.
  'HttpsUpgrades',
  'HttpsFirstBalancedModeAutoEnable',
  // Nothing is asked of anybody but the site.
  'PreconnectToSearch',
  'NetworkTimeServiceQuerying',
  'OptimizationHints',
  'MediaRouter',
]

const FLAGS = [
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  // No way out beside the one that a reading is given.
  '--force-webrtc-ip-handling-policy=disable_non_proxied_udp',
  '--disable-site-isolation-trials',
  // Of several such flags the last one holds, so this one has what Playwright leaves off, too, as far as it matters here.
  `--disable-features=${FEATURES_OFF.join(',')}`,
]

/** Whether the browser's own sandbox was had, by program; it is tried once. */
const sandboxed = new Map<string, boolean>()

/**
 * Starts the measuring browser, in its own sandbox wherever that can be had: not as root, and only where the kernel lets users
 * make namespaces. Its profile is its own and goes with it.
 */
export async function launchBrowser(program: string): Promise<Browser> {
  const browser = await launchAs(program, [])
  programs.set(browser, program)
  return browser
}

/** By which program each browser was started. */
const programs = new WeakMap<Browser, string>()
const trusting = new WeakMap<Browser, Map<string, Promise<Browser>>>()

/**
 * A browser beside another one that takes one certificate more, by its key; it ends with the other. Told to overlook what is
 * wrong with any certificate, a browser would keep nothing of such a site in its cache, and a second view be none.
 * @param spki SHA-256 of the certificate's public key, base64.
 */
export async function browserTrusting(browser: Browser, spki: string): Promise<Browser> {
  const program = programs.get(browser)
  if (program === undefined) throw new Error('This browser was started by somebody else.')
  const known = trusting.get(browser) ?? new Map<string, Promise<Browser>>()
  trusting.set(browser, known)
  const alive = await known.get(spki)?.catch(() => null)
  if (alive?.isConnected()) return alive
  const started = launchAs(program, [`--ignore-certificate-errors-spki-list=${spki}`])
  known.set(spki, started)
  const other = await started
  browser.once('disconnected', () => void other.close().catch(() => {}))
  // It went while the other one came.
  if (!browser.isConnected()) await other.close().catch(() => {})
  return other
}

async function launchAs(program: string, more: readonly string[]): Promise<Browser> {
  const isRoot = process.getuid?.() === 0
  if (!isRoot && sandboxed.get(program) !== false)
    try {
      const browser = await launch(program, true, more)
      sandboxed.set(program, true)
      return browser
    } catch (error) {
      if (!/sandbox|namespace/i.test((error as Error).message)) throw error
    }
  if (!sandboxed.has(program))
    log.warn(
      isRoot
        ? 'Chromium runs without its sandbox, since this is root. Run Unvelt as a user of its own.'
        : 'Chromium runs without its sandbox, since this machine does not let users make namespaces.',
    )
  sandboxed.set(program, false)
  return launch(program, false, more)
}

const launch = (program: string, sandbox: boolean, more: readonly string[]): Promise<Browser> =>
  chromium.launch({
    executablePath: program,
    headless: true,
    chromiumSandbox: sandbox,
    args: [...(sandbox ? [] : ['--no-sandbox']), ...FLAGS, ...more],
    handleSIGINT: false,
    handleSIGTERM: false,
  })
