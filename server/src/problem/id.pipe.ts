import { Injectable, type ArgumentMetadata, type PipeTransform } from '@nestjs/common'
import { notFound, ProblemError } from './problem.error.js'

/** The largest number of an integer column. */
export const LARGEST_NUMBER = 2_147_483_647

const WHOLE = /^\d{1,10}$/

const wholeOf = (text: unknown): number | null =>
  typeof text === 'string' && WHOLE.test(text) && Number(text) <= LARGEST_NUMBER ? Number(text) : null

function refuse(name: string): never {
  const message = `Expected a whole number up to ${LARGEST_NUMBER}.`
  throw new ProblemError(422, `${name}: ${message}`, [{ field: name, message }])
}

/** The id of something. What can't be an id names nothing that is there. */
@Injectable()
export class IdPipe implements PipeTransform<unknown, number> {
  transform(text: unknown, { type, data = 'id' }: ArgumentMetadata): number {
    const id = wholeOf(text)
    if (id) return id
    if (type === 'query') refuse(data)
    throw notFound(data)
  }
}

/** A whole number that may be left out. */
@Injectable()
export class WholePipe implements PipeTransform<unknown, number | undefined> {
  transform(text: unknown, { data = 'number' }: ArgumentMetadata): number | undefined {
    return text === undefined ? undefined : (wholeOf(text) ?? refuse(data))
  }
}
