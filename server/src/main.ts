import { createApp } from './create-app.js'
import { CONFIG } from './config/config.module.js'
import type { Config } from './config/config.js'
import { PreviewService } from './preview/preview.service.js'
import { log } from './log/log.js'

try {
  const app = await createApp()
  const { host, port } = app.get<Config>(CONFIG)
  await app.listen(port, host)
  // Without previews all else works.
  await app
    .get(PreviewService)
    .listen()
    .catch((error: Error) => log.error({ part: 'previews' }, error.message))
  log.info({ address: await app.getUrl() }, 'server ready')
} catch (error) {
  log.fatal((error as Error).message)
  process.exit(1)
}
