import fc from 'fast-check'
import { answerDifference, steadyAnswer } from '../src/retire/steady-answer.js'

const page = (time: string, body = '<p>Oaks</p>') =>
  `<html><head><meta name=made content="${time}"></head>${body}</html>`

it('what differs by itself counts for nothing, and all else counts', () => {
  const before = steadyAnswer(page('1'), page('2'))!
  expect(answerDifference(before, steadyAnswer(page('7'), page('8'))!)).toBeNull()
  expect(answerDifference(before, steadyAnswer(page('7', '<p>Elms</p>'), page('8', '<p>Elms</p>'))!)).toEqual({
    at: 5,
    was: '<p>Oaks',
    is: '<p>Elms',
  })
})

it('what is missing at the end is a difference', () => {
  const [long, short] = ['<p>a</p><p>b</p>', '<p>a</p>'].map((html) => steadyAnswer(html, html)!)
  expect(answerDifference(long!, short!)).toEqual({ at: 3, was: '<p>b', is: '' })
  expect(answerDifference(short!, long!)).toEqual({ at: 3, was: '', is: '<p>b' })
})

it('answers of another length can’t be held against anything', () => {
  expect(steadyAnswer('<p>a', '<p>a<p>b')).toBeNull()
})

const html = fc
  .array(fc.constantFrom('<p>', 'text', '</p>', '<', '\n', 'ä', '<script>if(a<b){}</script>'))
  .map((parts) => parts.join(''))

it('no answer differs from itself, and two that differ anywhere do, byte for byte', () => {
  fc.assert(
    fc.property(html, html, (one, other) => {
      const a = steadyAnswer(one, one)!
      const b = steadyAnswer(other, other)!
      expect(a.join('')).toBe(one)
      expect(answerDifference(a, b) === null).toBe(one === other)
    }),
  )
})
