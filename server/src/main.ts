import { createApp } from './create-app.js'
import { CONFIG } from './config/config.module.js'
import type { Config } from './config/config.js'

try {
  const app = await createApp()
  const { host, port } = app.get<Config>(CONFIG)
  await app.listen(port, host)
  console.log(`server: ${await app.getUrl()}`)
} catch (error) {
  console.error(`server: ${(error as Error).message}`)
  process.exit(1)
}
