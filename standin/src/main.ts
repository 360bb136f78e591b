import { startStandin } from './standin.js'

const databaseUrl = process.env.STANDIN_DATABASE_URL
if (!databaseUrl) {
  console.error('stand-in: STANDIN_DATABASE_URL must name the stand-in’s own database.')
  process.exit(2)
}
try {
  const standin = await startStandin({
    port: Number(process.env.STANDIN_PORT ?? 4610),
    databaseUrl,
    connectorKey: process.env.STANDIN_KEY ?? 'fernhollow-demo-key',
    accessLogFile: process.env.STANDIN_LOG,
    ...(process.env.STANDIN_TRACES && {
      spans: { endpoint: process.env.STANDIN_TRACES, token: process.env.STANDIN_TRACES_TOKEN },
    }),
  })
  console.log(`stand-in: ${standin.address}/`)
  const stop = () => void standin.stop().then(() => process.exit(0))
  process.once('SIGINT', stop)
  process.once('SIGTERM', stop)
} catch (error) {
  console.error(`stand-in: ${(error as Error).message}`)
  process.exit(1)
}
