import { AsyncLocalStorage } from 'node:async_hooks'
import type { LoggerService } from '@nestjs/common'
import { pino, type Logger } from 'pino'
import { LOG_LEVELS, type LogLevel } from '../config/config.js'

/** What a line belongs to: a request, or a job with what it is about. */
export type LogContext = Record<string, string | number>

const contexts = new AsyncLocalStorage<LogContext>()

const asked = LOG_LEVELS.find((level) => level === process.env.UNVELT_LOG)

/** The log of this process: one JSON line each, which carries the ids of the request or job that it was written for. */
export const log: Logger = pino({
  level: asked ?? 'info',
  base: null,
  timestamp: pino.stdTimeFunctions.isoTime,
  formatters: { level: (level) => ({ level }) },
  mixin: () => contexts.getStore() ?? {},
})

/** Runs something so that every line written meanwhile says what it belongs to. */
export const logWithin = <T>(context: LogContext, run: () => T): T =>
  contexts.run({ ...contexts.getStore(), ...context }, run)

export const setLogLevel = (level: LogLevel): void => void (log.level = level)

/** What Nest itself has to say, in the same log. */
export const nestLog: LoggerService = {
  log: (message: unknown, context?: unknown) => log.debug({ part: context }, String(message)),
  error: (message: unknown, ...more: unknown[]) => log.error({ part: more.at(-1) }, String(message)),
  warn: (message: unknown, context?: unknown) => log.warn({ part: context }, String(message)),
}
