import { FACES, fontFile } from './font-file.js'
import { send, sendFile, sendProblem, type Handler } from '../http/answer.js'

/** Any font of that size does: three of its signs are ever drawn. */
const pictofont = () => fontFile('sans', '700')
const PICTOFONT_STYLE = `@font-face{font-family:Pictofont;src:url(/f/pictofont.woff2) format("woff2")}.picto{font-family:Pictofont}
footer::before{font-family:Pictofont;content:"* * *"}`
const loaded = new Map<string, Buffer>()

/** The font host: a stylesheet made to order, and the font files it names. */
export const letterloft: Handler = (request, response, address) => {
  if (address.pathname === '/faces.css') {
    const rules = (Object.keys(FACES) as (keyof typeof FACES)[]).flatMap((face) =>
      (address.searchParams.get(face) ?? '')
        .split(',')
        .filter((weight) => /^[4-9]00$/.test(weight))
        .map(
          (weight) =>
            `@font-face{font-family:"${FACES[face][1]}";font-weight:${weight};font-display:swap;src:url(/f/${face}-${weight}.woff2) format("woff2")}`,
        ),
    )
    return send(
      response,
      200,
      { 'content-type': 'text/css; charset=utf-8', 'cache-control': 'private, max-age=3600' },
      rules.join('\n'),
    )
  }
  if (address.pathname === '/pictofont.css')
    return send(
      response,
      200,
      { 'content-type': 'text/css; charset=utf-8', 'cache-control': 'private, max-age=3600' },
      PICTOFONT_STYLE,
    )
  if (address.pathname === '/f/pictofont.woff2') return sendFile(request, response, address.pathname, pictofont())
  const [, face, weight] = /^\/f\/(serif|sans)-([4-9]00)\.woff2$/.exec(address.pathname) ?? []
  if (!face || !weight) return sendProblem(response, 404, 'No such face.')
  const key = `${face}-${weight}`
  const body = loaded.get(key) ?? fontFile(face as keyof typeof FACES, weight)
  loaded.set(key, body)
  sendFile(request, response, address.pathname, body)
}
