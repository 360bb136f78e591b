import { applyDecorators, type Type } from '@nestjs/common'
import { ApiResponse } from '@nestjs/swagger'

/** Says in the API description what a call answers with. */
export function Answers(type: Type<object>, { list = false, status = 200 } = {}) {
  const ref = { $ref: `#/components/schemas/${type.name}` }
  return applyDecorators(
    ApiResponse({ status, description: type.name, schema: list ? { type: 'array', items: ref } : ref }),
    ApiResponse({
      status: 'default',
      description: 'A problem document (RFC 9457)',
      content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
    }),
  )
}
