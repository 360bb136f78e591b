import { createApp } from './create-app.js'
import { CONFIG } from './config/config.module.js'
import type { Config } from './config/config.js'
import { PreviewService } from './preview/preview.service.js'
import { log } from './log/log.js'

try {
  const app = await createApp()
  const { host, port } = app.get<Config>(CONFIG)
  await app.listen(port, host)
  await app.get(PreviewService).listen()
  log.info({ address: await app.getUrl() }, 'server ready')
} catch (error) {
  log.fatal((error as Error).message)
  process.exit(1)
}
