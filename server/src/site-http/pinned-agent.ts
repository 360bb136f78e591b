import { Agent } from 'node:https'
import { connect, type ConnectionOptions, type TLSSocket } from 'node:tls'
import type { Duplex } from 'node:stream'
import { fingerprintOf, isPinned, OtherCertificate } from './certificate.js'
import type { PinnedCertificate } from './site-way.js'

/** Speaks TLS with whoever shows one certificate, and with nobody else. Nothing is sent before that is seen. */
export class PinnedAgent extends Agent {
  constructor(private readonly certificate: PinnedCertificate) {
    // A session that is taken up again shows no certificate.
    super({ keepAlive: true, maxCachedSessions: 0 })
  }

  override createConnection(
    options: ConnectionOptions & { host?: string },
    created: (error: Error | null, stream: Duplex) => void,
  ): undefined {
    const socket: TLSSocket = connect({ ...options, rejectUnauthorized: false })
    const failed = (error: Error) => created(error, socket)
    socket.once('error', failed)
    socket.once('secureConnect', () => {
      socket.off('error', failed)
      if (isPinned(socket, this.certificate)) return created(null, socket)
      const other = new OtherCertificate(options.host ?? 'The site', fingerprintOf(socket))
      socket.destroy()
      created(other, socket)
    })
  }
}
