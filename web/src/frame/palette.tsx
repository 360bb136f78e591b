import { Command } from 'cmdk'
import { useCallback, useEffect, useRef, type KeyboardEvent } from 'react'
import { useNavigate } from 'react-router'
import { MEASURES, type Site } from '@unvelt/contract'
import { useAddOns, usePages, useStartSweep } from '../api/queries.js'
import { MEASURE_WORDS } from '../figures/format.js'
import { toast } from '../parts/toast.js'
import { PLACES } from './rail.js'

const ITEM = 'flex cursor-pointer justify-between gap-4 px-4 py-1.5 data-[selected=true]:bg-wash'
const GROUP =
  '[&_[cmdk-group-heading]]:px-4 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[12.5px] [&_[cmdk-group-heading]]:text-soft'

/** The list is in order a frame or two after something came; where nothing fits, nothing is waited for longer. */
const MOST_FRAMES = 60

/** What begins with the words comes before what has them somewhere; letters strewn over a name are no match. */
function rank(name: string, search: string): number {
  const at = name.toLowerCase().indexOf(search.trim().toLowerCase())
  if (at < 0) return 0
  return at === 0 ? 1 : /\W/.test(name[at - 1]!) ? 0.8 : 0.4
}

interface PaletteProps {
  site: Site
  sites: Site[]
  words: string
  onWords(words: string): void
  /** Enter was pressed before all was there that it may choose from: it holds as soon as that has come. */
  isChosen: boolean
  onChosen(isChosen: boolean): void
  /** From now on what is typed goes into it by itself. */
  onThere(): void
  onClose(): void
}

/** Every place, page and action by its name. */
export function Palette({ site, sites, words, onWords, isChosen, onChosen, onThere, onClose }: PaletteProps) {
  const navigate = useNavigate()
  const { data: pages = [], isPending: pagesCome } = usePages(site.id)
  const { data: addOns = [], isPending: addOnsCome } = useAddOns(site.id)
  const isComing = pagesCome || addOnsCome
  const list = useRef<HTMLDivElement>(null)
  // Since the last letter, by arrow or pointer.
  const hasMoved = useRef(false)
  /** What is marked, once the list stands as the words want it; until then that is what fitted before them. */
  const settled = useCallback(() => {
    const items = list.current?.querySelectorAll<HTMLElement>('[cmdk-item]')
    const marked = [...(items ?? [])].find(({ dataset }) => dataset.selected === 'true')
    if (!marked || rank(marked.dataset.value ?? '', words) === 0) return null
    return hasMoved.current || marked === items![0] ? marked : null
  }, [words])
  useEffect(() => {
    if (!isChosen || isComing) return
    let frames = 0
    const choose = () => {
      const marked = settled()
      if (!marked && ++frames < MOST_FRAMES) return void (frame = requestAnimationFrame(choose))
      onChosen(false)
      marked?.click()
    }
    let frame = requestAnimationFrame(choose)
    return () => cancelAnimationFrame(frame)
  }, [isChosen, isComing, settled, onChosen])
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key.startsWith('Arrow') || event.key === 'Home' || event.key === 'End') hasMoved.current = true
    if (event.key !== 'Enter' || (!isComing && settled())) return
    event.preventDefault()
    onChosen(true)
  }
  const start = useStartSweep(site.id)
  const go = (to: string) => () => {
    onClose()
    void navigate(to)
  }
  const sweep = () => {
    onClose()
    start.mutate(undefined, { onError: (error) => toast.error(error.message) })
  }
  return (
    <Command.Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      label="Go to or do"
      filter={rank}
      onKeyDown={onKeyDown}
      overlayClassName="fixed inset-0 z-30 bg-ink/20"
      contentClassName="fixed top-24 left-1/2 z-40 w-[520px] -translate-x-1/2 border border-line bg-sheet"
    >
      <Command.Input
        value={words}
        onValueChange={(typed) => {
          hasMoved.current = false
          onChosen(false)
          onWords(typed)
        }}
        onFocus={({ target }) => {
          // Whatever is focused when a window opens is selected right after, and the next letter would take its place.
          queueMicrotask(() => target.setSelectionRange(target.value.length, target.value.length))
          onThere()
        }}
        placeholder="A place, a page, an action"
        className="w-full border-b border-line bg-transparent px-4 py-3 text-[15px] outline-none"
      />
      <Command.List
        ref={list}
        onPointerMove={() => (hasMoved.current = true)}
        className="max-h-[360px] overflow-auto py-1"
      >
        <Command.Empty className="px-4 py-3 text-soft">Nothing is called that.</Command.Empty>
        <Command.Group heading="Actions" className={GROUP}>
          <Command.Item className={ITEM} onSelect={sweep}>
            Sweep all {site.pages} pages
          </Command.Item>
          <Command.Item className={ITEM} onSelect={go(`/sites/${site.id}/add-ons?view=undecided`)}>
            Decide on the undecided
          </Command.Item>
          <Command.Item className={ITEM} onSelect={go(`/sites/${site.id}/add-ons?view=jobs`)}>
            Find add-ons that do the same job
          </Command.Item>
          {MEASURES.map((measure) => (
            <Command.Item
              key={measure}
              className={ITEM}
              onSelect={go(`/sites/${site.id}/ledger?measure=${measure}&basis=visits`)}
            >
              Heaviest by {MEASURE_WORDS[measure].name.toLowerCase()}, weighted by visits
            </Command.Item>
          ))}
          <Command.Item className={ITEM} onSelect={go('/sites/new')}>
            Register another site
          </Command.Item>
        </Command.Group>
        <Command.Group heading="Places" className={GROUP}>
          {PLACES.map(({ to, name }) => (
            <Command.Item key={to} className={ITEM} onSelect={go(`/sites/${site.id}/${to}`)}>
              {name}
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Add-ons" className={GROUP}>
          {addOns.map((addOn) => (
            <Command.Item
              key={addOn.slug}
              value={`${addOn.name} ${addOn.slug} ${addOn.jobs.join(' ')}`}
              className={ITEM}
              onSelect={go(`/sites/${site.id}/add-ons/${encodeURIComponent(addOn.slug)}`)}
            >
              {addOn.name} <span className="truncate text-soft">{addOn.jobs.join(', ') || addOn.kind}</span>
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="Pages" className={GROUP}>
          {pages.map((page) => (
            <Command.Item
              key={page.id}
              value={`${page.title} ${page.path}`}
              className={ITEM}
              onSelect={go(`/sites/${site.id}/pages/${page.id}`)}
            >
              {page.title} <span className="truncate text-soft">{page.path}</span>
            </Command.Item>
          ))}
        </Command.Group>
        {sites.length > 1 && (
          <Command.Group heading="Sites" className={GROUP}>
            {sites.map((other) => (
              <Command.Item key={other.id} className={ITEM} onSelect={go(`/sites/${other.id}/ledger`)}>
                {other.name}
              </Command.Item>
            ))}
          </Command.Group>
        )}
      </Command.List>
    </Command.Dialog>
  )
}
