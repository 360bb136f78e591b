import { useState } from 'react'
import type { AddOn, AddOnChange, Site } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { SOURCES } from './add-on-table.js'
import { useChangeAddOn } from './change-add-on.js'

const FACTS = [
  ['owner', 'Who looks after it'],
  ['purpose', 'What it is for'],
  ['worth', 'What it is worth'],
] as const

/** What only people know of an add-on, and the words that they put over the site's. */
export function PeopleFacts({ site, addOn }: { site: Site; addOn: AddOn }) {
  const change = useChangeAddOn(site.id)
  const [draft, setDraft] = useState<AddOnChange | null>(null)
  const set = (part: AddOnChange) => setDraft({ ...draft, ...part })
  if (draft === null)
    return (
      <section aria-label="About" className="mt-6 border-t border-line pt-4">
        <h2 className="text-[17px]">About</h2>
        <dl className="mt-2 grid gap-1.5">
          {FACTS.map(([fact, name]) => (
            <div key={fact}>
              <dt className="text-[12.5px] text-soft">{name}</dt>
              <dd>{addOn[fact] || <span className="text-soft">nobody has said</span>}</dd>
            </div>
          ))}
          <div>
            <dt className="text-[12.5px] text-soft">Jobs</dt>
            <dd>
              {addOn.jobs.join(', ') || <span className="text-soft">none named</span>}
              {addOn.from.jobs && <span className="text-[12.5px] text-soft"> · {SOURCES[addOn.from.jobs]}</span>}
            </dd>
          </div>
        </dl>
        <Button
          className="mt-2"
          onClick={() =>
            setDraft({
              owner: addOn.owner,
              purpose: addOn.purpose,
              worth: addOn.worth,
              jobs: addOn.jobs,
              name: addOn.name,
            })
          }
        >
          Change …
        </Button>
      </section>
    )
  return (
    <section aria-label="About" className="mt-6 border-t border-line pt-4">
      <h2 className="text-[17px]">About</h2>
      <form
        className="mt-2 grid gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          change.write(addOn, changed(addOn, draft), (well) => well && setDraft(null))
        }}
      >
        <Line name="Name" value={draft.name ?? ''} onChange={(name) => set({ name })} />
        {FACTS.map(([fact, name]) => (
          <Line key={fact} name={name} value={draft[fact] ?? ''} onChange={(value) => set({ [fact]: value })} />
        ))}
        <Line
          name="Jobs, with commas between them"
          value={(draft.jobs ?? []).join(',')}
          onChange={(text) => set({ jobs: text.split(',').map((job) => job.trimStart()) })}
        />
        <div className="flex gap-2">
          <Button type="submit" weight="main" disabled={change.isPending}>
            Save
          </Button>
          <Button weight="quiet" onClick={() => setDraft(null)}>
            Not now
          </Button>
        </div>
      </form>
    </section>
  )
}

/** Only what is another word than before is said by hand. */
function changed(addOn: AddOn, draft: AddOnChange): AddOnChange {
  const jobs = (draft.jobs ?? []).map((job) => job.trim()).filter(Boolean)
  return {
    ...(draft.name?.trim() !== addOn.name && { name: draft.name?.trim() ?? '' }),
    ...(draft.owner !== addOn.owner && { owner: draft.owner?.trim() ?? '' }),
    ...(draft.purpose !== addOn.purpose && { purpose: draft.purpose?.trim() ?? '' }),
    ...(draft.worth !== addOn.worth && { worth: draft.worth?.trim() ?? '' }),
    ...(jobs.join() !== addOn.jobs.join() && { jobs }),
  }
}

function Line({ name, value, onChange }: { name: string; value: string; onChange(value: string): void }) {
  return (
    <label className="grid gap-1 text-[13px]">
      {name}
      <input
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className="h-8 border border-line bg-paper px-2 text-[14px]"
      />
    </label>
  )
}
