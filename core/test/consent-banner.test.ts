import { consentBannerIn, type BannerCandidate } from '../src/index.js'

const banner = (text: string, ...names: string[]): BannerCandidate => ({
  selector: '#banner',
  text,
  controls: names.map((name, n) => ({ selector: `#b${n}`, name })),
})
const pressed = (text: string, ...names: string[]) => {
  const found = consentBannerIn([banner(text, ...names)])
  return found && [found.agree.name, found.refuse?.name ?? null]
}

describe('a consent banner', () => {
  it.each([
    ['We use cookies.', ['Settings', 'Only necessary', 'Accept all'], 'Accept all', 'Only necessary'],
    ['Cookies help us.', ['Reject all', 'Allow all'], 'Allow all', 'Reject all'],
    ['Your privacy matters', ['I agree', 'I do not agree'], 'I agree', 'I do not agree'],
    ['This site uses cookies', ['Got it'], 'Got it', null],
    ['Wir verwenden Cookies', ['Alle akzeptieren', 'Nur notwendige'], 'Alle akzeptieren', 'Nur notwendige'],
    ['Datenschutz', ['Ablehnen', 'Zustimmen'], 'Zustimmen', 'Ablehnen'],
    [
      'Nous utilisons des cookies',
      ['Continuer sans accepter', 'Tout accepter'],
      'Tout accepter',
      'Continuer sans accepter',
    ],
    ['Usamos cookies', ['Rechazar', 'Aceptar'], 'Aceptar', 'Rechazar'],
    ['Cookie e privacy', ['Rifiuta', 'Accetta tutti'], 'Accetta tutti', 'Rifiuta'],
    ['Wij gebruiken cookies', ['Weigeren', 'Akkoord'], 'Akkoord', 'Weigeren'],
  ])('%s', (text, names, agree, refuse) => {
    expect(pressed(text, ...names)).toEqual([agree, refuse])
  })

  it('is no other thing that lies over a page', () => {
    expect(pressed('Sign up for our letter', 'OK', 'No thanks')).toBeNull()
    expect(pressed('We use cookies. Read more.', 'Read more')).toBeNull()
    expect(consentBannerIn([])).toBeNull()
  })

  it('is the innermost of several', () => {
    const outer = { ...banner('Menu Home Cookies are used here', 'Accept'), selector: '#outer' }
    expect(consentBannerIn([outer, banner('Cookies are used here', 'Accept')])?.selector).toBe('#banner')
  })
})
