import { chromium, type Browser } from 'playwright-core'

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
  '--no-sandbox',
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

/** Starts the measuring browser. Its profile is its own and goes with it. */
export function launchBrowser(program: string): Promise<Browser> {
  return chromium.launch({
    executablePath: program,
    headless: true,
    args: FLAGS,
    handleSIGINT: false,
    handleSIGTERM: false,
  })
}
