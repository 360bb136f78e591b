import { consentBannerIn, refusalIn, type BannerCandidate } from '../src/index.js'

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

  it('that refuses by no press of its own may lead to what does', () => {
    const found = consentBannerIn([banner('We use cookies.', 'Accept all', 'Manage preferences', 'Our policy')])
    const away = { ...banner('We use cookies.', 'Accept all') }
    expect(
      consentBannerIn([{ ...away, controls: [...away.controls, { selector: 'a', name: 'Options', leadsAway: true }] }])
        ?.more,
    ).toBeNull()
    expect(found).toMatchObject({ refuse: null, more: { name: 'Manage preferences', selector: '#b1' } })
    expect(consentBannerIn([banner('We use cookies.', 'Accept all', 'Settings', 'Reject all')])?.more).toBeNull()
    const deeper = banner('Choose which cookies we may use', 'Save', 'Refuse statistics only', 'Reject all')
    expect(refusalIn([banner('A letter for you', 'No thanks'), deeper])?.name).toBe('Reject all')
    expect(refusalIn([banner('Choose which cookies we may use', 'Save')])).toBeNull()
  })

  it('is refused by keeping choices, once what is on is off', () => {
    const choices = (on: number, ...names: string[]) => ({
      ...banner('Choose which cookies we may use', ...names),
      switches: { on: Array.from({ length: on }, (_, n) => `#s${n}`), all: 80 },
    })
    expect(refusalIn([choices(0, 'Accept all', 'Save choices')])).toEqual({ selector: '#b1', name: 'Save choices' })
    expect(refusalIn([choices(0, 'Auswahl speichern', 'Alle akzeptieren')])?.name).toBe('Auswahl speichern')
    expect(refusalIn([choices(0, 'Save choices', 'Reject all')])?.name).toBe('Reject all')
    expect(refusalIn([choices(2, 'Accept all', 'Save choices')])).toMatchObject({
      name: 'Save choices',
      off: ['#s0', '#s1'],
    })
    // Who says that it refuses needs no switch; of parts within each other the smaller is meant; nobody answers hundreds.
    expect(refusalIn([choices(2, 'Save choices', 'Reject all')])).not.toHaveProperty('off')
    expect(refusalIn([choices(3, 'Save'), choices(1, 'Save')])?.off).toEqual(['#s0'])
    expect(refusalIn([choices(61, 'Save')])).toBeNull()
    expect(refusalIn([choices(0, 'Save all')])).toBeNull()
    expect(refusalIn([{ ...choices(0, 'Save'), switches: { on: [], all: 0 } }])).toBeNull()
  })

  it('is the innermost of several', () => {
    const outer = { ...banner('Menu Home Cookies are used here', 'Accept'), selector: '#outer' }
    expect(consentBannerIn([outer, banner('Cookies are used here', 'Accept')])?.selector).toBe('#banner')
  })
})
