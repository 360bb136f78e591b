import { ValidationPipe, type ValidationError } from '@nestjs/common'
import { ProblemError } from './problem.error.js'

/** Checks every request against its contract class; says for each field what was expected. */
/** Numbers in paths and queries are left to their own pipes: Nest would take `0x1` for one. */
class Validation extends ValidationPipe {
  protected override transformPrimitive(value: unknown): unknown {
    return value
  }
}

export const validation = () =>
  new Validation({
    whitelist: true,
    forbidNonWhitelisted: true,
    transform: true,
    exceptionFactory: (errors) =>
      new ProblemError(
        422,
        'Some fields are not as expected.',
        errors.flatMap((e) => flatten(e)),
      ),
  })

function flatten(error: ValidationError, path = error.property): { field: string; message: string }[] {
  const own = Object.values(error.constraints ?? {}).map((message) => ({ field: path, message }))
  return [...own, ...(error.children ?? []).flatMap((child) => flatten(child, `${path}/${child.property}`))]
}
