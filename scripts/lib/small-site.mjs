import { createServer } from 'node:http'

/** A site of a few small pages that tells nothing of itself, for what has to be read often. */
export async function smallSite(pages = 3) {
  const paths = Array.from({ length: pages }, (_, n) => (n === 0 ? '/' : `/leaf-${n}`))
  const links = paths.map((path) => `<a href="${path}">${path}</a>`).join(' ')
  const server = createServer((request, response) => {
    if (request.url === '/small.js')
      return response.writeHead(200, { 'content-type': 'text/javascript' }).end('let a = 1')
    if (!paths.includes(request.url)) return response.writeHead(404).end()
    response
      .writeHead(200, { 'content-type': 'text/html' })
      .end(`<!doctype html><title>Leaf ${request.url}</title><script src="/small.js"></script>${links}`)
  })
  await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve))
  return {
    address: `http://small.localhost:${server.address().port}`,
    stop: () => {
      server.closeAllConnections()
      return new Promise((resolve) => server.close(resolve))
    },
  }
}
