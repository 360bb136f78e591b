import type { Problem } from '@unvelt/contract'

/** What the server refused, with the sentence it gave. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.title)
  }

  /** The message about one field, if there is one. */
  about(field: string): string | undefined {
    return this.problem.errors?.find((error) => error.field === field)?.message
  }
}

/** One call to the server. @throws ApiError with the server's own sentence. */
export const call = <T>(method: string, path: string, body?: object): Promise<T> =>
  send(method, path, body && JSON.stringify(body), 'application/json')

/** An answer that is bytes and no JSON. @throws ApiError */
export async function callBytes(path: string): Promise<ArrayBuffer> {
  const response = await fetch(`/api${path}`).catch(() => null)
  if (!response?.ok) {
    const status = response?.status ?? 0
    const title = status ? `The server answered ${status}.` : 'Unvelt’s server does not answer. Is it still running?'
    throw new ApiError(status, { type: 'about:blank', status, title })
  }
  return response.arrayBuffer()
}

/** The same with a body of any type. @throws ApiError */
export async function send<T>(method: string, path: string, body: string | Blob | undefined, type: string): Promise<T> {
  const response = await fetch(`/api${path}`, {
    method,
    ...(body !== undefined && { headers: { 'content-type': type }, body }),
  }).catch(() => {
    throw new ApiError(0, {
      type: 'about:blank',
      status: 0,
      title: 'Unvelt’s server does not answer. Is it still running?',
    })
  })
  if (response.status === 204) return undefined as T
  if (response.ok) return (await response.json()) as T
  const problem = (await response.json().catch(() => null)) as Problem | null
  throw new ApiError(
    response.status,
    problem ?? { type: 'about:blank', status: response.status, title: `The server answered ${response.status}.` },
  )
}
