import { useState, type FormEvent } from 'react'
import { fitsPattern, patternFor, patternProblem, type PageRequest, type Site } from '@unvelt/contract'
import { useAddOns, useChangePatterns } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { evidenceWords } from '../pages/evidence.js'
import { Button } from '../parts/button.js'
import { Window } from '../parts/window.js'
import { toast } from '../parts/toast.js'

const BREADTHS = [
  ['file', 'This file'],
  ['folder', 'Its folder'],
  ['host', 'Its whole host'],
] as const
const NEW = 'new'

interface ChargeDialogProps {
  site: Site
  request: PageRequest
  /** All requests of the page, to say how many of them a pattern fits. */
  addresses: string[]
  onClose(): void
}

/** Charges files like one to an add-on, from now on and in all past sweeps. */
export function ChargeDialog({ site, request, addresses, onClose }: ChargeDialogProps) {
  const { data: addOns = [] } = useAddOns(site.id)
  const change = useChangePatterns(site.id)
  const [pattern, setPattern] = useState(() => patternFor(request.url, 'file'))
  const [addon, setAddon] = useState('')
  const [name, setName] = useState('')
  const fixed = request.evidence === 'register' || request.evidence === 'prefix'
  const problem = patternProblem(pattern)
  const fits = problem ? 0 : addresses.filter((address) => fitsPattern(pattern, address)).length
  const ready = !problem && !fixed && (addon === NEW ? slugOf(name) !== '' : addon !== '')
  const charge = (event: FormEvent) => {
    event.preventDefault()
    const input = addon === NEW ? { pattern, addon: slugOf(name), name: name.trim() } : { pattern, addon }
    change.mutate(
      { do: 'add', input },
      {
        onError: (error) => toast.error(error.message),
        onSuccess: ({ patterns }) => {
          const made = patterns.find((p) => p.pattern === pattern)
          toast(`Files like that are charged to ${made?.addonName ?? addon}. Past sweeps are worked out anew.`, {
            ...(made && {
              action: { label: 'Undo', onClick: () => change.mutate({ do: 'remove', id: made.id }) },
            }),
          })
          onClose()
        },
      },
    )
  }
  return (
    <Window
      title="Who pays for this file?"
      note={`${evidenceWords(request)}${fixed ? ' What the site itself says can’t be overruled.' : ''}`}
      width={560}
      onClose={onClose}
    >
      <form onSubmit={charge} className="mt-4 grid gap-4">
        <div className="grid gap-1">
          <label htmlFor="charge-pattern" className="font-semibold">
            Files like
          </label>
          <div className="flex gap-4 text-[13.5px]">
            {breadthsOf(request.url).map(([breadth, words]) => (
              <label key={breadth} className="flex items-center gap-1.5">
                <input
                  type="radio"
                  name="breadth"
                  className="accent-verdigris"
                  checked={pattern === patternFor(request.url, breadth)}
                  onChange={() => setPattern(patternFor(request.url, breadth))}
                />
                {words}
              </label>
            ))}
          </div>
          <input
            id="charge-pattern"
            value={pattern}
            onChange={(event) => setPattern(event.target.value)}
            spellCheck={false}
            aria-invalid={problem !== null}
            aria-describedby="charge-fits"
            className="h-9 w-full border border-line bg-paper px-2.5 text-[14px]"
          />
          <p id="charge-fits" className={problem ? 'text-[13px] text-plum' : 'text-[13px] text-soft'}>
            {problem ? `Expected ${problem}.` : `Fits ${fits} of the ${plural(addresses.length, 'request')} here.`}
          </p>
        </div>
        <label className="grid gap-1">
          <span className="font-semibold">Charge them to</span>
          <select
            value={addon}
            onChange={(event) => setAddon(event.target.value)}
            className="h-9 w-full border border-line bg-paper px-2"
          >
            <option value="">Choose …</option>
            <option value={NEW}>A new entry of the inventory</option>
            {addOns.map(({ slug, name: known }) => (
              <option key={slug} value={slug}>
                {known}
              </option>
            ))}
          </select>
        </label>
        {addon === NEW && (
          <label className="grid gap-1">
            <span className="font-semibold">Name of the new entry</span>
            <input
              value={name}
              onChange={(event) => setName(event.target.value)}
              maxLength={200}
              className="h-9 w-full border border-line bg-paper px-2.5"
            />
          </label>
        )}
        <div className="flex justify-end gap-2">
          <Button weight="quiet" onClick={onClose}>
            Leave it
          </Button>
          <Button type="submit" weight="main" disabled={!ready || change.isPending}>
            Charge
          </Button>
        </div>
      </form>
    </Window>
  )
}

/** A file at the top of its host has no folder of its own. */
const breadthsOf = (url: string) =>
  BREADTHS.filter(([breadth]) => breadth !== 'folder' || patternFor(url, 'folder') !== patternFor(url, 'host'))

const slugOf = (name: string) =>
  name
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 100)
