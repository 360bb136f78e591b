import { Link } from 'react-router'
import type { Site } from '@unvelt/contract'
import { useChangeSite, useSites } from '../api/queries.js'
import { toast } from '../parts/toast.js'
import { areCopies } from './carried-over.js'
import { CertificatePart } from './certificate-part.js'
import { HostsPart } from './hosts-part.js'

/** What makes a copy of a site another thing than a site: what it is a copy of, where its name leads, whose word its certificate is. */
export function CopyPart({ site }: { site: Site }) {
  const { data: sites = [] } = useSites()
  const change = useChangeSite(site.id)
  const others = sites.filter(({ id }) => id !== site.id)
  const kin = others.filter((other) => areCopies(site, other))
  const originals = others.filter(({ copyOf }) => copyOf === null)
  const hasCopies = others.some(({ copyOf }) => copyOf === site.id)
  return (
    <section className="px-4 pt-6" aria-label="Copies">
      <h2 className="text-[17px]">Copies</h2>
      {others.length === 0 ? (
        <p className="text-soft">
          A copy of this site, for trying things, can be registered beside it. The two can then be set side by side, and
          rules carried from one to the other.
        </p>
      ) : hasCopies ? (
        <p className="text-soft">
          This is the site that {kin.map(({ name, address }) => `${name} (${new URL(address).host})`).join(', ')} is a
          copy of.
        </p>
      ) : (
        <label className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <span className="text-soft">This site is</span>
          <select
            aria-label="What this site is"
            className="h-8 border border-line bg-sheet px-2"
            value={site.copyOf ?? ''}
            disabled={change.isPending}
            onChange={({ target }) =>
              change.mutate(
                { copyOf: target.value === '' ? null : Number(target.value) },
                { onError: (error) => toast.error(error.message) },
              )
            }
          >
            <option value="">a site of its own</option>
            {originals.map(({ id, name, address }) => (
              <option key={id} value={id}>
                a copy of {name} ({new URL(address).host})
              </option>
            ))}
          </select>
        </label>
      )}
      {kin.map((other) => (
        <p key={other.id} className="mt-1">
          <Link
            className="text-verdigris underline decoration-verdigris/40 underline-offset-2 hover:decoration-verdigris"
            to={`/sites/${site.id}/proof/two-sweeps?thenOf=${other.copyOf === null ? other.id : site.id}&nowOf=${other.copyOf === null ? site.id : other.id}`}
          >
            Side by side with {new URL(other.address).host}
          </Link>
          <span className="text-soft">, and rules are carried over on </span>
          <Link
            className="text-verdigris underline decoration-verdigris/40 underline-offset-2 hover:decoration-verdigris"
            to={`/sites/${site.id}/rules`}
          >
            Rules
          </Link>
          <span className="text-soft">.</span>
        </p>
      ))}
      <HostsPart site={site} />
      {site.address.startsWith('https:') && <CertificatePart site={site} />}
    </section>
  )
}
