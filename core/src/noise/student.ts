/** Natural logarithm of the gamma function (Lanczos 1964, with the coefficients for g = 7, n = 9). */
function logGamma(x: number): number {
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x)
  const at = x - 1
  let sum = 0.99999999999980993
  LANCZOS.forEach((coefficient, n) => (sum += coefficient / (at + n + 1)))
  const t = at + 7.5
  return 0.5 * Math.log(2 * Math.PI) + (at + 0.5) * Math.log(t) - t + Math.log(sum)
}

const LANCZOS = [
  676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059, 12.507343278686905,
  -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
]

/** Regularised incomplete beta function, by Lentz's continued fraction (Numerical Recipes, 3rd ed., 6.4). */
function incompleteBeta(a: number, b: number, x: number): number {
  if (x <= 0) return 0
  if (x >= 1) return 1
  if (x > (a + 1) / (a + b + 2)) return 1 - incompleteBeta(b, a, 1 - x)
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log(1 - x)) / a
  const least = 1e-300
  let c = 1
  let d = 1 / notZero(1 - ((a + b) * x) / (a + 1), least)
  let result = d
  for (let m = 1; m < 300; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m))
    d = 1 / notZero(1 + even * d, least)
    c = notZero(1 + even / c, least)
    result *= d * c
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1))
    d = 1 / notZero(1 + odd * d, least)
    c = notZero(1 + odd / c, least)
    result *= d * c
    if (Math.abs(d * c - 1) < 1e-14) break
  }
  return front * result
}

const notZero = (value: number, least: number) => (Math.abs(value) < least ? least : value)

/** How often Student's t with so many degrees of freedom is at least so far from zero, on either side. */
export const studentP = (t: number, freedom: number): number =>
  incompleteBeta(freedom / 2, 0.5, freedom / (freedom + t * t))

const known = new Map<number, number>()

/** The value that Student's t is within, on both sides, with a probability of 95 %. Found by halving, once for each. */
export function student95(freedom: number): number {
  const found = known.get(freedom)
  if (found !== undefined) return found
  let [low, high] = [1.9, 13]
  for (let n = 0; n < 60; n++) {
    const middle = (low + high) / 2
    if (studentP(middle, freedom) > 0.05) low = middle
    else high = middle
  }
  const value = (low + high) / 2
  known.set(freedom, value)
  return value
}
