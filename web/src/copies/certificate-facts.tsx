import type { CertificateView } from '@unvelt/contract'

const day = (iso: string) =>
  new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })

/** What a certificate says of itself, with the fingerprint by which it is taken. */
export function CertificateFacts({ certificate }: { certificate: CertificateView }) {
  const { subject, issuer, names, validFrom, validTo, fingerprint, why } = certificate
  return (
    <>
      {why && <p>{why}</p>}
      <dl className="mt-1 grid grid-cols-[7.5rem_minmax(0,1fr)] gap-x-3 gap-y-0.5 text-[13.5px]">
        <dt className="text-soft">For</dt>
        <dd className="break-words">
          {[subject, ...names.filter((name) => !subject.split(', ').includes(name))].filter(Boolean).join(', ') ||
            'nobody named'}
        </dd>
        <dt className="text-soft">Vouched for by</dt>
        <dd className="break-words">{issuer === subject ? 'itself' : issuer || 'nobody named'}</dd>
        <dt className="text-soft">Holds</dt>
        <dd>
          {day(validFrom)} to {day(validTo)}
        </dd>
        <dt className="text-soft">Fingerprint</dt>
        <dd className="font-mono text-[12.5px] break-all">{fingerprint}</dd>
      </dl>
    </>
  )
}
