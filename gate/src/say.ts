import type { ServerResponse } from 'node:http'

const escaped = (text: string) => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`)

/** A page of the gate's own, which says why there is none of the site's. */
export function say(response: ServerResponse, status: number, title: string, why: string): void {
  const page = `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escaped(title)}</title>
<style>body{margin:12vh auto;max-width:34rem;padding:0 1.5rem;font:16px/1.5 Georgia,serif;color:#1d2433;background:#f6f3ec}h1{font-size:1.4rem}p{color:#5a6275}
@media(prefers-color-scheme:dark){body{color:#e8e4da;background:#171a21}p{color:#a5acbb}}</style>
<h1>${escaped(title)}</h1><p>${escaped(why)}</p></html>`
  response.writeHead(status, {
    'content-type': 'text/html; charset=utf-8',
    'cache-control': 'no-store',
    'content-length': Buffer.byteLength(page),
    'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'",
  })
  response.end(response.req.method === 'HEAD' ? undefined : page)
}
