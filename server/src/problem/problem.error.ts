import { HttpException } from '@nestjs/common'

/** A refusal that the interface shows: a sentence, and the fields it is about. */
export class ProblemError extends HttpException {
  constructor(
    status: number,
    title: string,
    readonly errors: { field: string; message: string }[] = [],
  ) {
    super({ type: 'about:blank', status, title, ...(errors.length > 0 && { errors }) }, status)
    // Else it would say the name of its class to whoever writes down why something failed.
    this.message = title
  }
}

/** What stands in the way ends by itself, so whoever can wait may ask again. */
export class BusyError extends ProblemError {
  constructor(title: string) {
    super(409, title)
  }
}

export const notFound = (what: string) => new ProblemError(404, `There is no such ${what}.`)
