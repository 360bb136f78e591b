import type { LookedAtPicture, LookedThroughLens, PictureThroughView } from '@unvelt/contract'
import { lazyRules } from '../src/picture-look/lazy-rules.js'

const DESK: LookedThroughLens = { name: 'Desk', device: 'desk', ratio: 1, viewWidth: 1280 }
const HANDSET: LookedThroughLens = { name: 'Handset', device: 'handset', ratio: 2, viewWidth: 390 }
const drawn = (through: number, over: Partial<PictureThroughView> = {}): PictureThroughView => ({
  ...{ through, times: 1, width: 100, height: 80, where: 'further down', lazy: false, isLargest: false, ...over },
})
const picture = (drawnThrough: PictureThroughView[] | undefined, over: Partial<LookedAtPicture> = {}) =>
  ({ url: 'http://pond.test/oak.jpg', isOwn: true, ...over, drawnThrough }) as LookedAtPicture
const rulesFor = (pictures: LookedAtPicture[], lenses: LookedThroughLens[]) =>
  lazyRules({ pictures, frames: [], lenses } as unknown as Parameters<typeof lazyRules>[0], '/oaks', new Map())
const devices = (pictures: LookedAtPicture[], lenses = [DESK, HANDSET]) =>
  rulesFor(pictures, lenses).map(({ condition }) => condition?.device)

it('what nobody sees at first on either device waits on both', () => {
  expect(rulesFor([picture([drawn(0), drawn(1)])], [DESK, HANDSET])).toEqual([
    {
      ...{ addon: 'content', file: '/oak.jpg', effect: 'hold', until: 'seen' },
      place: { level: 'page', path: '/oaks' },
    },
  ])
})

it('what is in view or the largest paint on one of them waits only on the other', () => {
  expect(devices([picture([drawn(0, { where: 'in view' }), drawn(1)])])).toEqual(['handset'])
  expect(devices([picture([drawn(0), drawn(1, { isLargest: true })])])).toEqual(['desk'])
  expect(devices([picture([drawn(0, { where: 'in view' }), drawn(1, { where: 'in view' })])])).toEqual([])
})

it('what one device never draws needs no device; what waits already needs no rule', () => {
  expect(devices([picture([drawn(0)])])).toEqual([undefined])
  expect(devices([picture([drawn(0, { where: 'not shown' }), drawn(1)])])).toEqual(['handset'])
  expect(devices([picture([drawn(0, { lazy: true }), drawn(1, { lazy: true })])])).toEqual([])
})

it('nothing is said of a device through which nobody has looked, in looks of earlier versions too', () => {
  expect(devices([picture([drawn(0)])], [DESK])).toEqual(['desk'])
  const before = { drawnWidth: 9, drawnHeight: 9, times: 1, where: 'further down', lazy: false } as const
  expect(devices([picture(undefined, before)], [HANDSET])).toEqual(['handset'])
})
