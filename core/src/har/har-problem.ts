/** A HAR file that can't be taken, with the place in it and what was expected there. */
export class HarProblem extends Error {
  constructor(
    readonly at: string,
    readonly expected: string,
  ) {
    super(`${at}: expected ${expected}.`)
  }
}
