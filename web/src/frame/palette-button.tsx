import { Search } from 'lucide-react'
import { useEffect, useState } from 'react'
import type { Site } from '@unvelt/contract'
import { Palette } from './palette.js'

/** Opens the palette: Ctrl K. Whoever presses that goes on typing at once, so it is there, with all that it finds. */
export function PaletteButton({ site, sites }: { site: Site; sites: Site[] }) {
  const [open, setOpen] = useState(false)
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== 'k' || !(event.ctrlKey || event.metaKey)) return
      event.preventDefault()
      setOpen((value) => !value)
    }
    addEventListener('keydown', onKey)
    return () => removeEventListener('keydown', onKey)
  }, [])
  return (
    <>
      <button
        type="button"
        onClick={() => setOpen(true)}
        className="flex h-8 shrink-0 items-center gap-3 border border-line bg-sheet px-3 whitespace-nowrap text-soft hover:text-ink"
      >
        <Search size={15} className="md:hidden" aria-hidden />
        <span className="max-md:sr-only">Go to or do …</span>{' '}
        <kbd className="font-sans text-[12px] max-md:hidden">Ctrl K</kbd>
      </button>
      <Palette site={site} sites={sites} open={open} setOpen={setOpen} />
    </>
  )
}
