import { useMutation, useQueryClient } from '@tanstack/react-query'
import { ChevronDown } from 'lucide-react'
import { useState } from 'react'
import type { InventoryTaken, Site } from '@unvelt/contract'
import { send } from '../api/client.js'
import { keys } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { chooseFile } from '../parts/choose-file.js'
import { toast } from '../parts/toast.js'
import { lazily } from '../parts/lazily.js'
import { Menu } from '../parts/menu.js'

const AddByHand = lazily(async () => (await import('./add-by-hand.js')).AddByHand)

/** Lists in and out, and entries by hand. */
export function InventoryMenu({ site }: { site: Site }) {
  const client = useQueryClient()
  const [adding, setAdding] = useState(false)
  const take = useMutation({
    mutationFn: ({ file, path }: { file: File; path: string }) =>
      send<InventoryTaken>('POST', `/sites/${site.id}/${path}`, file, 'application/octet-stream'),
    onSuccess: ({ added, known }) => {
      toast.success(`Taken in: ${plural(added, 'new entry', 'new entries')}, ${known} known already`)
      return client.invalidateQueries({ queryKey: keys.site(site.id) })
    },
    onError: (error) => toast.error(error.message, { duration: 12_000 }),
  })
  return (
    <div className="flex gap-2">
      <Button onClick={() => setAdding(true)}>Add by hand …</Button>
      <Menu
        align="end"
        button={
          <button
            type="button"
            className="flex h-8 items-center gap-1 rounded-xs border border-verdigris/60 px-3 font-medium text-verdigris hover:bg-wash"
          >
            Lists <ChevronDown size={14} aria-hidden />
          </button>
        }
        entries={[
          { saves: `/api/sites/${site.id}/inventory.csv`, name: 'Save as a table (CSV)' },
          { saves: `/api/sites/${site.id}/inventory.cdx.json`, name: 'Save as CycloneDX' },
          { line: true },
          {
            name: 'Take a list in (CSV or CycloneDX) …',
            does: () => chooseFile('.csv,.json', (file) => take.mutate({ file, path: 'inventory' })),
          },
          {
            name: 'Take in how often visitors touch what (CSV) …',
            does: () => chooseFile('.csv', (file) => take.mutate({ file, path: 'touches' })),
          },
        ]}
      />
      {adding && <AddByHand site={site} onClose={() => setAdding(false)} />}
    </div>
  )
}
