import { useCallback, useLayoutEffect, useRef, useState } from 'react'
import { useSearchParams } from 'react-router'
import { NewestAddress } from './newest-address.js'

type Alter = (old: URLSearchParams) => URLSearchParams

/** The query of the address and a way to change it in place, where no write takes back another. */
export function useAddress(): [URLSearchParams, (alter: Alter) => void] {
  const [search, setSearch] = useSearchParams()
  const [newest] = useState(() => new NewestAddress(search))
  const set = useRef(setSearch)
  useLayoutEffect(() => {
    set.current = setSearch
    newest.drawn(search)
  }, [setSearch, newest, search])
  const write = useCallback((alter: Alter) => set.current(newest.written(alter), { replace: true }), [newest])
  return [search, write]
}
