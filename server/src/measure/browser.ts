import { chromium, type Browser } from 'playwright-core'

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
  // Frames of other hosts stay in one process, so that one protocol session sees every request.
  '--disable-site-isolation-trials',
  '--disable-features=IsolateOrigins,site-per-process,OptimizationHints,MediaRouter',
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
