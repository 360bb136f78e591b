import { jest } from '@jest/globals'

jest.retryTimes(1, { logErrorsBeforeRetry: true })
