import { useQueries, useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { onLedger, unpackCells, type LedgerDetail } from '@unvelt/contract'
import { call, callBytes } from '../api/client.js'
import { keys, useLedger } from '../api/queries.js'
import { Sheet } from './sheet.js'

/** A sweep's ledger with its cells. The cells change only while the sweep is read or worked out anew. */
export function useSheet(site: number, sweep: string | null) {
  const ledger = useLedger(site, sweep)
  const shown = ledger.data?.sweep
  const cells = useQuery({
    queryKey: [...keys.ledger(site), 'cells', shown?.id],
    queryFn: async () => unpackCells(await callBytes(`/sites/${site}/ledger/cells?sweep=${shown!.id}`)),
    enabled: shown != null,
    // Ten megabytes and more are not compared field by field.
    structuralSharing: false,
  })
  const sheet = useMemo(
    () => (ledger.data && cells.data ? new Sheet(ledger.data, onLedger(ledger.data, cells.data)) : null),
    [ledger.data, cells.data],
  )
  return { ledger, cells, sheet, error: ledger.error ?? cells.error }
}

/** Features and files of the rows that are opened. */
export function useDetails(site: number, sweep: number | undefined, slugs: readonly string[]) {
  return useQueries({
    queries: slugs.map((slug) => ({
      queryKey: [...keys.ledger(site), 'detail', sweep, slug],
      queryFn: () =>
        call<LedgerDetail>('GET', `/sites/${site}/ledger/details?sweep=${sweep}&payer=${encodeURIComponent(slug)}`),
      enabled: sweep !== undefined,
    })),
    combine: (results) =>
      new Map(slugs.flatMap((slug, index) => (results[index]?.data ? [[slug, results[index].data] as const] : []))),
  })
}
