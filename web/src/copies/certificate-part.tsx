import type { Site } from '@unvelt/contract'
import { useChangeSite } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { CertificateFacts } from './certificate-facts.js'
import { useShownCertificate } from './use-certificate.js'

/** Whose word a site's certificate is, and what is taken for this site though no browser would take it. */
export function CertificatePart({ site }: { site: Site }) {
  const ask = useShownCertificate()
  const change = useChangeSite(site.id)
  const kept = site.certificate
  const shown = ask.data
  const look = () =>
    ask.mutate(
      { address: site.address, local: site.local, hosts: site.hosts },
      { onError: (error) => toast.error(error.message) },
    )
  const take = (certificate: string | null) =>
    change.mutate(
      { certificate },
      {
        onSuccess: () => {
          ask.reset()
          toast.success(
            certificate === null ? 'Only what browsers take is taken.' : 'The certificate is taken for this site.',
          )
        },
        onError: (error) => toast.error(error.message),
      },
    )
  return (
    <div className="mt-3" role="group" aria-label="Certificate">
      <div className="flex items-end justify-between gap-6 max-md:flex-wrap">
        <p className="text-soft">
          {kept
            ? 'This certificate is taken for this site alone, though no browser would take it; another one fails its readings.'
            : 'Certificates are taken as browsers take them. One of the site’s own making can be taken by its fingerprint.'}
        </p>
        <div className="flex shrink-0 gap-2">
          {kept && (
            <Button weight="quiet" disabled={change.isPending} onClick={() => take(null)}>
              Take it no longer
            </Button>
          )}
          <Button disabled={ask.isPending || change.isPending} onClick={look}>
            {ask.isPending ? 'Asking the site …' : 'What it shows now'}
          </Button>
        </div>
      </div>
      {kept && !shown && <CertificateFacts certificate={kept} />}
      {shown && (
        <div className="mt-2 border-l-2 border-verdigris pl-3" role="status">
          {shown.why === null ? (
            <p>Browsers take the certificate that the site shows; nobody has to.</p>
          ) : shown.fingerprint === kept?.fingerprint ? (
            <p>The site shows the certificate that is taken.</p>
          ) : (
            kept && <p>The site shows another certificate than the one that is taken.</p>
          )}
          <CertificateFacts certificate={shown} />
          {shown.why !== null && shown.fingerprint !== kept?.fingerprint && (
            <Button weight="main" className="mt-2" disabled={change.isPending} onClick={() => take(shown.fingerprint)}>
              Take it for this site
            </Button>
          )}
        </div>
      )}
    </div>
  )
}
