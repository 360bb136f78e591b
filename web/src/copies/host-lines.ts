import type { HostAddress } from '@unvelt/contract'

const ADDRESS = /^(?:\d{1,3}(?:\.\d{1,3}){3}|[0-9a-f:]*:[0-9a-f:.]+)$/i
const HOST = /^[a-z0-9_](?:[a-z0-9_.-]*[a-z0-9])?$/i

/**
 * Names and where they lead, a line each, as in a hosts file: an address, then its names. What stands behind # is not read.
 * @throws Error that says in which line, and what was expected.
 */
export function hostsOfLines(text: string): HostAddress[] {
  return text.split('\n').flatMap((line, n) => {
    const [address, ...names] = line
      .replace(/#.*/, '')
      .trim()
      .split(/\s+/)
      .filter((word) => word !== '')
    if (address === undefined) return []
    const at = `Line ${n + 1}: `
    if (!ADDRESS.test(address)) throw new Error(`${at}expected an IP address first, such as 192.0.2.7.`)
    if (names.length === 0) throw new Error(`${at}expected a host name behind ${address}.`)
    const odd = names.find((name) => !HOST.test(name))
    if (odd !== undefined) throw new Error(`${at}${odd} is no host name without a port.`)
    return names.map((host) => ({ host: host.toLowerCase(), address }))
  })
}

/** The same the other way. */
export const linesOfHosts = (hosts: readonly HostAddress[]): string =>
  hosts.map(({ host, address }) => `${address} ${host}`).join('\n')

/** What is wrong with such lines; true where nothing is. */
export function checkHostLines(text: string | undefined): true | string {
  try {
    hostsOfLines(text ?? '')
    return true
  } catch (error) {
    return (error as Error).message
  }
}
