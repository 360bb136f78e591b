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
  const isRoot = process.getuid?.() === 0
  if (!isRoot && sandboxed.get(program) !== false)
    try {
      const browser = await launch(program, true)
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
  return launch(program, false)
}

const launch = (program: string, sandbox: boolean): Promise<Browser> =>
  chromium.launch({
    executablePath: program,
    headless: true,
    chromiumSandbox: sandbox,
    args: sandbox ? FLAGS : ['--no-sandbox', ...FLAGS],
    handleSIGINT: false,
    handleSIGTERM: false,
  })
