import { useSearchParams } from 'react-router'

/** Has every place of the site show the figures of a sweep. */
export function useShowSweep(): (sweep: number) => void {
  const [, setSearch] = useSearchParams()
  return (sweep) => setSearch((old) => new URLSearchParams({ ...Object.fromEntries(old), sweep: String(sweep) }))
}
