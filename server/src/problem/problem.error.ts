import { HttpException } from '@nestjs/common'

/** A refusal that the interface shows: a sentence, and the fields it is about. */
export class ProblemError extends HttpException {
  constructor(
    status: number,
    title: string,
    readonly errors: { field: string; message: string }[] = [],
  ) {
    super({ type: 'about:blank', status, title, ...(errors.length > 0 && { errors }) }, status)
  }
}

export const notFound = (what: string) => new ProblemError(404, `There is no such ${what}.`)
