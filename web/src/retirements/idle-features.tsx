import { useNavigate } from 'react-router'
import type { Retirements } from '@unvelt/contract'
import { useRetire } from '../api/retirements.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'

const FEW = 6

/** Features that are switched on and that no content uses, of add-ons that are in use otherwise. */
export function IdleFeatures({ siteId, idle }: { siteId: number; idle: Retirements['idleFeatures'] }) {
  const retire = useRetire(siteId)
  const navigate = useNavigate()
  if (idle.length === 0) return null
  const begin = (addon: string, features: string[]) =>
    retire.mutate(
      { open: addon, features },
      {
        onSuccess: ({ id }) => void navigate(`/sites/${siteId}/retirements/${id}`),
        onError: (error) => toast.error(error.message),
      },
    )
  return (
    <section aria-label="Features that nobody uses" className="border-t border-line pb-3">
      <h2 className="px-4 pt-4 pb-1 text-[17px]">Features that nobody uses</h2>
      <ul>
        {idle.map(({ addon, name, features, on }) => (
          <li key={addon} className="flex items-center gap-4 border-t border-line/60 px-4 py-1.5">
            <span className="w-44 shrink-0 truncate font-semibold">{name}</span>
            <span className="min-w-0 flex-1 text-soft">
              {features.length} of {plural(on, 'feature')} that are switched on:{' '}
              {features
                .slice(0, FEW)
                .map((feature) => feature.name)
                .join(', ')}
              {features.length > FEW && ` and ${features.length - FEW} more`}
            </span>
            <Button
              disabled={retire.isPending}
              aria-label={`Switch off the idle features of ${name}`}
              onClick={() =>
                begin(
                  addon,
                  features.map(({ slug }) => slug),
                )
              }
            >
              Switch off …
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}
