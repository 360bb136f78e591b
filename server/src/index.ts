export { createApp } from './create-app.js'
export { launchBrowser } from './measure/browser.js'
export { readPage } from './measure/read-page.js'
export { DEFAULT_LENS } from './lens/lens-settings.js'
