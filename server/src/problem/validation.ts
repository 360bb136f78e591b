import { ValidationPipe, type ValidationError } from '@nestjs/common'
import { ProblemError } from './problem.error.js'

/** Checks every request against its contract class; says for each field what was expected. */
export const validation = () =>
  new ValidationPipe({
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
