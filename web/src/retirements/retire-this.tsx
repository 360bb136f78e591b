import { useNavigate } from 'react-router'
import { ApiError } from '../api/client.js'
import { useRetire } from '../api/retirements.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'

/** On an add-on's sheet: begins its retirement, or leads to where it is on its way. */
export function RetireThis({ siteId, slug }: { siteId: number; slug: string }) {
  const retire = useRetire(siteId)
  const navigate = useNavigate()
  const begin = () =>
    retire.mutate(
      { open: slug },
      {
        onSuccess: ({ id }) => void navigate(`/sites/${siteId}/retirements/${id}`),
        onError: (error) => {
          toast.info(error.message)
          if (error instanceof ApiError && error.status === 409) void navigate(`/sites/${siteId}/retirements`)
        },
      },
    )
  return (
    <p className="mt-3">
      <Button disabled={retire.isPending} onClick={begin}>
        Retire it …
      </Button>
    </p>
  )
}
