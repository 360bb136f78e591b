import { useOutletContext } from 'react-router'
import type { Site } from '@unvelt/contract'

/** The site that the frame shows, for the places inside it. */
export const useSite = () => useOutletContext<Site>()
