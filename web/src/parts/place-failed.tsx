import type { FallbackProps } from 'react-error-boundary'
import { Failed } from './notice.js'

/** In place of a place that could not be drawn; the rest of the frame stays. */
export const PlaceFailed = ({ error }: FallbackProps) => (
  <Failed
    error={error instanceof Error ? error : new Error('Something unexpected went wrong.')}
    retry={() => location.reload()}
  />
)
