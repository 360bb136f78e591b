import { PAGES } from '../src/content/pages.js'
import { pastViews, pastVisits } from '../src/visits/past-visits.js'

const NOW = new Date('2026-11-25T12:00:00Z')

describe('the past visits', () => {
  it('are the same for the same seed, and others for another', () => {
    const lines = [...pastVisits(PAGES, 1, NOW)]
    expect([...pastVisits(PAGES, 1, NOW)]).toEqual(lines)
    expect([...pastVisits(PAGES, 2, NOW)]).not.toEqual(lines)
  })

  it('lie within the thirty days, in pages that anybody may see, and count people only', () => {
    const lines = [...pastVisits(PAGES, 1, NOW)]
    const open = new Set(PAGES.filter((p) => p.area === 'public' && !p.roles).map((p) => p.path))
    for (const line of lines) expect(open.has(/"GET (\S+) /.exec(line)![1]!)).toBe(true)
    expect(lines[0]).toContain('26/Oct/2026')
    expect(lines.some((line) => line.includes('25/Nov/2026'))).toBe(false)
    const views = pastViews(PAGES, 1, NOW)
    const counted = [...views.values()].reduce((sum, n) => sum + n, 0)
    expect(counted).toBe(lines.filter((line) => line.includes('Mozilla')).length)
    expect(views.get('/')!).toBeGreaterThan(views.get('/trees/cork-oak')! * 5)
  })
})
