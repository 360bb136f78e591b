import { useState } from 'react'
import { useFilm, useTakeFilm } from '../api/films.js'
import { dateTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { FilmPlayer } from './film-player.js'

/** Both loads of a page, to be looked at; filmed when somebody asks for it. */
export function FilmPart({ siteId, proofId, pageId }: { siteId: number; proofId: number; pageId: number }) {
  const { data: film } = useFilm(siteId, proofId, pageId)
  const take = useTakeFilm(siteId, proofId, pageId)
  const [open, setOpen] = useState(false)
  if (!film) return null
  const [before, after] = (['before', 'after'] as const).map((side) => film.loads.find((load) => load.side === side))
  const start = () => {
    setOpen(true)
    take.mutate(undefined, { onError: (error) => toast.error(error.message) })
  }
  const isTaken = film.state === 'done' && before && after
  return (
    <div className="mt-3">
      <div className="flex flex-wrap items-center gap-3">
        {film.state === 'waiting' ? (
          <p role="status" className="text-[13.5px] text-soft">
            Filming the load {film.loads.length === 0 ? 'before' : 'after'} …
          </p>
        ) : isTaken ? (
          <Button aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? 'Put both loads away' : 'See both loads'}
          </Button>
        ) : (
          <Button disabled={take.isPending} onClick={start}>
            Film both loads
          </Button>
        )}
        {isTaken && open && (
          <>
            <Button weight="quiet" disabled={take.isPending} onClick={start}>
              Film them again
            </Button>
            <p className="text-[12.5px] text-soft">
              {film.takenAt && `${dateTime(film.takenAt)}. `}Taking pictures slows a load, so these times are no
              figures.
            </p>
          </>
        )}
        {film.failure !== null && (
          <p role="alert" className="text-[13.5px] text-plum">
            {film.failure}
          </p>
        )}
      </div>
      {isTaken && open && <FilmPlayer key={film.id} filmId={film.id!} before={before} after={after} />}
    </div>
  )
}
