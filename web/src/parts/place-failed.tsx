import { useRouteError } from 'react-router'
import { Failed } from './notice.js'

/** In place of a place that could not be drawn; the rest of the frame stays. */
export function PlaceFailed() {
  const error = useRouteError()
  return (
    <Failed
      error={error instanceof Error ? error : new Error('Something unexpected went wrong.')}
      retry={() => location.reload()}
    />
  )
}
