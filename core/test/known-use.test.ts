import fc from 'fast-check'
import { idleByRequest, timedOnes, withKnownUse, type InlineCode, type Reading } from '../src/index.js'
import { anyReading } from './reading-arbitrary.js'

const unknown = ({ used: _, ...code }: InlineCode): InlineCode => code
const clean = (reading: Reading): Reading => ({
  ...reading,
  clean: true,
  fileUse: [],
  inlineCode: reading.inlineCode.map(unknown),
})
const idleOf = (reading: Reading) => [...idleByRequest(reading).values()].sort((a, b) => a - b)

describe('what one repeat has seen of the use of files', () => {
  it('holds for a clean repeat of the same files, to the byte, and changes nothing else of it', () => {
    fc.assert(
      fc.property(anyReading, (reading) => {
        // Requests have other ids in every reading.
        const again = {
          ...clean(reading),
          requests: reading.requests.map((request) => ({ ...request, id: `again ${request.id}` })),
        }
        const [first, second] = withKnownUse([reading, again])
        expect(first).toBe(reading)
        if (reading.fileUse.length > 0) expect(idleOf(second!)).toEqual(idleOf(reading))
        expect(clean(second!)).toEqual(again)
        // Of two pieces of code that say the same, the use of one is that of both.
        const codes = reading.inlineCode.map(({ hash, bytes }) => `${hash} ${bytes}`)
        if (new Set(codes).size === codes.length) expect(second!.inlineCode).toEqual(reading.inlineCode)
      }),
    )
  })

  it('is not known of a file that has changed, and never idle for that', () => {
    fc.assert(
      fc.property(anyReading, (reading) => {
        const grown = clean({
          ...reading,
          requests: reading.requests.map((request) => ({ ...request, decodedBytes: request.decodedBytes + 1e9 })),
        })
        expect(withKnownUse([reading, grown])[1]!.fileUse).toEqual([])
      }),
    )
  })

  it('leaves alone what knows for itself', () => {
    fc.assert(
      fc.property(anyReading, anyReading, (one, other) => {
        expect(withKnownUse([one, other])).toEqual([one, other])
      }),
    )
  })
})

it('times are those of clean readings, or of all where none is', () => {
  fc.assert(
    fc.property(anyReading, (reading) => {
      expect(timedOnes([reading, clean(reading)])).toEqual([clean(reading)])
      expect(timedOnes([reading, reading])).toHaveLength(2)
      expect(timedOnes([])).toEqual([])
      // What was taken without times has none, though it be all there is.
      const untimed = { ...reading, untimed: true }
      expect(timedOnes([untimed])).toEqual([])
      expect(timedOnes([untimed, reading])).toEqual([reading])
    }),
  )
})
