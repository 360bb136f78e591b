import { useState } from 'react'
import type { Storage } from '@unvelt/contract'
import { useKeepFull, useWouldGo } from '../api/storage.js'
import { bytes, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'

const CHOICES = [null, 20, 10, 5, 3, 2, 1]
const MOST_NAMED = 8

/** How many sweeps are kept in full, and what goes by that, said before it does. */
export function Retention({ siteId, storage }: { siteId: number; storage: Storage }) {
  const [chosen, setChosen] = useState(storage.keepFull)
  const would = useWouldGo(siteId, chosen)
  const keep = useKeepFull(siteId)
  const choices = CHOICES.includes(storage.keepFull) ? CHOICES : [...CHOICES, storage.keepFull]
  const going = would.data?.sweeps ?? []
  return (
    <form
      aria-label="Older sweeps"
      className="mt-2 flex max-w-3xl flex-wrap items-center gap-x-3 gap-y-2"
      onSubmit={(event) => {
        event.preventDefault()
        keep.mutate(chosen, {
          onSuccess: () => toast(going.length > 0 ? `${plural(going.length, 'sweep')} kept as tolls` : 'Saved'),
          onError: (error) => toast.error(error.message),
        })
      }}
    >
      <label className="flex items-center gap-2">
        Kept in full
        <select
          value={chosen ?? ''}
          onChange={(event) => setChosen(event.target.value === '' ? null : Number(event.target.value))}
          className="h-8 border border-line bg-paper px-2"
        >
          {choices.map((n) => (
            <option key={n} value={n ?? ''}>
              {n === null
                ? 'all sweeps'
                : n === 1
                  ? 'the newest sweep of each lens'
                  : `the newest ${n} sweeps of each lens`}
            </option>
          ))}
        </select>
      </label>
      <Button type="submit" weight="main" disabled={chosen === storage.keepFull || keep.isPending || would.isPending}>
        Save
      </Button>
      <p role="status" className="basis-full text-[13.5px] text-soft">
        {chosen === null
          ? 'Nothing goes by itself.'
          : chosen === storage.keepFull
            ? 'Of those before them only the tolls are kept: what was loaded for whom on each page, and what was seen in use.'
            : would.data &&
              (going.length === 0
                ? 'Nothing goes now; later what is beyond goes at the end of each sweep.'
                : `${wordsFor(going)} would keep their tolls, and lose what was looked into on each page, with its pictures: ${bytes(would.data.bytes)}. That can’t be brought back.`)}
      </p>
    </form>
  )
}

const wordsFor = (sweeps: readonly number[]): string =>
  sweeps.length > MOST_NAMED
    ? plural(sweeps.length, 'sweep')
    : `${sweeps.length === 1 ? 'Sweep' : 'Sweeps'} ${sweeps.join(', ')}`
