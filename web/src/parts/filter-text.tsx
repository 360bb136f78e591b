import { useLayoutEffect, useRef, useState } from 'react'

interface FilterTextProps {
  /** As the address has it, which may be some keys behind. */
  text: string
  onChange(text: string): void
  label: string
  placeholder: string
  id?: string
  /** Its width. */
  className: string
}

/**
 * A field that a list is filtered by. It shows what is typed at once: while a large list is busy, the address comes later, and an older
 * one must not take back what was typed since.
 */
export function FilterText({ text, onChange, label, placeholder, id, className }: FilterTextProps) {
  const [typed, setTyped] = useState(text)
  const latest = useRef(text)
  const sent = useRef<string[]>([])
  useLayoutEffect(() => {
    const at = sent.current.indexOf(text)
    if (text === latest.current) sent.current = []
    else if (at >= 0) sent.current = sent.current.slice(at + 1)
    else {
      // A link, *Back* or *show all* has led there.
      sent.current = []
      latest.current = text
      setTyped(text)
    }
  }, [text])
  const type = (next: string) => {
    latest.current = next
    sent.current.push(next)
    setTyped(next)
    onChange(next)
  }
  return (
    <input
      type="search"
      id={id}
      aria-label={label}
      placeholder={placeholder}
      value={typed}
      onChange={(event) => type(event.target.value)}
      className={`h-7 min-w-0 border border-line bg-sheet px-2 focus:border-verdigris ${className}`}
    />
  )
}
