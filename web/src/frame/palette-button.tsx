import { Search } from 'lucide-react'
import { useEffect, useState } from 'react'
import type { Site } from '@unvelt/contract'
import { lazily } from '../parts/lazily.js'

const bring = () => import('./palette.js')
const Palette = lazily(async () => (await bring()).Palette)

/**
 * Opens the palette: Ctrl K. It comes when somebody is about to open it; who has pressed its keys goes on typing at once, and
 * what was typed before it was there stands in it.
 */
export function PaletteButton({ site, sites }: { site: Site; sites: Site[] }) {
  const [open, setOpen] = useState(false)
  const [isThere, setThere] = useState(false)
  const [words, setWords] = useState('')
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Control' || event.key === 'Meta') return void bring()
      if (event.key.toLowerCase() === 'k' && (event.ctrlKey || event.metaKey)) {
        event.preventDefault()
        setWords('')
        setOpen((value) => !value)
      } else if (open && !isThere && event.key.length === 1) {
        event.preventDefault()
        setWords((before) => before + event.key)
      }
    }
    addEventListener('keydown', onKey)
    return () => removeEventListener('keydown', onKey)
  }, [open, isThere])
  return (
    <>
      <button
        type="button"
        onPointerEnter={() => void bring()}
        onFocus={() => void bring()}
        onClick={() => {
          setWords('')
          setOpen(true)
        }}
        className="flex h-8 shrink-0 items-center gap-3 border border-line bg-sheet px-3 whitespace-nowrap text-soft hover:text-ink"
      >
        <Search size={15} className="md:hidden" aria-hidden />
        <span className="max-md:sr-only">Go to or do …</span>{' '}
        <kbd className="font-sans text-[12px] max-md:hidden">Ctrl K</kbd>
      </button>
      {open && (
        <Palette
          site={site}
          sites={sites}
          words={words}
          onWords={setWords}
          onThere={() => setThere(true)}
          onClose={() => {
            setOpen(false)
            setThere(false)
          }}
        />
      )}
    </>
  )
}
