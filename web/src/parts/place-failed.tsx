import type { FallbackProps } from 'react-error-boundary'
import { Failed } from './notice.js'

const NOT_FETCHED = 'A part of Unvelt could not be fetched. Its server is away, or a newer one has taken its place.'

/** In place of a place that could not be drawn; the rest of the frame stays. */
export const PlaceFailed = ({ error }: FallbackProps) => (
  <Failed error={new Error(wordsOf(error))} retry={() => location.reload()} />
)

function wordsOf(error: unknown): string {
  if (!(error instanceof Error)) return 'Something unexpected went wrong.'
  return /dynamically imported|importing a module|preload css/i.test(error.message) ? NOT_FETCHED : error.message
}
