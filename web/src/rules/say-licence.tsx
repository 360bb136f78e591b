import { useState } from 'react'
import { Button } from '../parts/button.js'

interface SayLicenceProps {
  isPending: boolean
  onSay(licence: string): void
}

/** Why a file of somebody else's may stand on the own host, to be said where it is missed. */
export function SayLicence({ isPending, onSay }: SayLicenceProps) {
  const [licence, setLicence] = useState('')
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (licence.trim() !== '') onSay(licence.trim())
      }}
    >
      <input
        aria-label="Licence, or whose word it is"
        placeholder="Licence, or whose word it is"
        maxLength={200}
        value={licence}
        onChange={({ target }) => setLicence(target.value)}
        className="h-9 w-64 border border-line bg-sheet px-2.5"
      />
      <Button type="submit" disabled={isPending || licence.trim() === ''}>
        Draft it
      </Button>
    </form>
  )
}
