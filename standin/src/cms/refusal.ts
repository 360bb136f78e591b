/** Something the CMS will not do, with the status and the sentence that say so. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly more: object = {},
  ) {
    super(message)
  }
}
