import { Search } from 'lucide-react'
import { useEffect, useState } from 'react'
import type { Site } from '@unvelt/contract'
import { lazily } from '../parts/lazily.js'

const bring = () => import('./palette.js')
const Palette = lazily(async () => (await bring()).Palette)

/**
 * Opens the palette: Ctrl K. It comes when somebody is about to open it; who has pressed its keys goes on typing at once, and
 * what was typed before it was there stands in it: letters, what took them back, and the Enter that chooses.
 */
export function PaletteButton({ site, sites }: { site: Site; sites: Site[] }) {
  const [open, setOpen] = useState(false)
  const [isThere, setThere] = useState(false)
  const [words, setWords] = useState('')
  const [isChosen, setChosen] = useState(false)
  const begin = () => {
    setWords('')
    setChosen(false)
  }
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Control' || event.key === 'Meta') return void bring()
      if (event.key.toLowerCase() === 'k' && (event.ctrlKey || event.metaKey)) {
        event.preventDefault()
        begin()
        setOpen((value) => !value)
      } else if (open && !isThere && !event.ctrlKey && !event.metaKey && !event.altKey) {
        if (event.key === 'Escape') setOpen(false)
        else if (event.key === 'Enter') setChosen(true)
        else if (event.key === 'Backspace') setWords((before) => before.slice(0, -1))
        else if (event.key.length === 1) setWords((before) => before + event.key)
        else return
        event.preventDefault()
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
          begin()
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
          isChosen={isChosen}
          onChosen={setChosen}
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
