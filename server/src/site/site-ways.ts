import { Op } from 'sequelize'
import type { CertificateView, HostAddress } from '@unvelt/contract'
import { ProblemError } from '../problem/problem.error.js'
import type { Reach } from '../reach/reach.js'
import { shownCertificate, type ShownCertificate } from '../site-http/certificate.js'
import { tryingWay, type PinnedCertificate, type SiteWay } from '../site-http/site-way.js'
import { whyUnreachable } from '../site-http/site-fetch.js'
import { SiteRow } from './site.model.js'

const refused = (field: string, message: string) => new ProblemError(422, message, [{ field, message }])

/** What somebody wishes for on the way to a site. */
export interface WayWish {
  hosts: readonly HostAddress[]
  /** Fingerprint of the certificate to be taken; null where it must be one that browsers take. */
  certificate: string | null
}

/** Has all that `run` asks of a site go that way. */
export const byWay = <T>(address: string, way: SiteWay, run: () => Promise<T>): Promise<T> =>
  tryingWay([new URL(address).host], way, run)

export const hostsByName = (hosts: readonly HostAddress[]): Readonly<Record<string, string>> =>
  Object.fromEntries(hosts.map(({ host, address }) => [host, address]))

/**
 * The way to a site as it is wished for.
 * @throws ProblemError where the site does not show the certificate that is to be taken.
 */
export async function wayOfWish(address: string, { hosts, certificate }: WayWish, reach: Reach): Promise<SiteWay> {
  const byName = hostsByName(hosts)
  if (certificate === null) return { certificate: null, hosts: byName }
  const { why, ...shown } = await certificateOf(address, byName, reach)
  if (shown.fingerprint !== certificate)
    throw refused('certificate', `The site shows another certificate by now: ${shown.fingerprint}.`)
  // One that every browser takes needs nobody to accept it, and may be renewed as often as it likes.
  return { certificate: why === null ? null : shown, hosts: byName }
}

/** The certificate that a site shows. @throws ProblemError where it shows none. */
export async function certificateOf(
  address: string,
  hosts: Readonly<Record<string, string>>,
  reach: Reach,
): Promise<ShownCertificate> {
  const { host, protocol } = new URL(address)
  if (protocol !== 'https:') throw refused('address', `${address} is asked without TLS, and so shows no certificate.`)
  return byWay(address, { certificate: null, hosts }, () => shownCertificate(address, reach)).catch(
    (error: unknown) => {
      throw refused('address', whyUnreachable(error, host))
    },
  )
}

export const certificateView = ({ spki: _, ...told }: PinnedCertificate, why: string | null): CertificateView => ({
  ...told,
  why,
})

/**
 * A name leads to one place, whichever site asks for it.
 * @throws ProblemError where it is another site's own, or is mapped to something else for one.
 */
export async function refuseTaken(hosts: readonly HostAddress[], exceptFor: number | null): Promise<void> {
  if (hosts.length === 0) return
  const names = hosts.map(({ host }) => host)
  const twice = names.find((name, n) => names.indexOf(name) !== n)
  if (twice !== undefined) throw refused('hosts', `${twice} stands there twice.`)
  const others = await SiteRow.findAll({
    ...(exceptFor !== null && { where: { id: { [Op.ne]: exceptFor } } }),
    attributes: ['name', 'address', 'ownHosts', 'hosts'],
  })
  for (const { host, address } of hosts)
    for (const other of others) {
      const mapped = other.hosts.find((one) => one.host === host)
      if (mapped && mapped.address !== address)
        throw refused('hosts', `For ${other.name}, ${host} leads to ${mapped.address} already.`)
      const own = [new URL(other.address).host, ...other.ownHosts].map((each) => each.replace(/:\d+$/, ''))
      if (!mapped && own.includes(host)) throw refused('hosts', `${host} is a host of ${other.name}.`)
    }
}

/**
 * A copy is one of a site that is none itself, so that nobody has to follow a chain.
 * @throws ProblemError
 */
export async function refuseOddCopy(copyOf: number, siteId: number | null): Promise<void> {
  const original = await SiteRow.findByPk(copyOf)
  if (!original || copyOf === siteId) throw refused('copyOf', 'Expected another site that is registered here.')
  if (original.copyOf !== null)
    throw refused('copyOf', `${original.name} is a copy itself. Name the site that it is one of.`)
  const copy = siteId === null ? null : await SiteRow.findOne({ where: { copyOf: siteId } })
  if (copy) throw refused('copyOf', `This site has a copy itself: ${copy.name}.`)
}
