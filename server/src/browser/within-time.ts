import { ReadingFailure } from '../reading/failure.js'

/** Waits for something, but not for ever. What comes after the time is thrown away. @throws ReadingFailure */
export async function withinTime<T>(atMostMs: number, work: Promise<T>, sentence: string): Promise<T> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new ReadingFailure(sentence)), atMostMs)
  })
  // If the time is over first, what the work says later is nobody's failure.
  work.catch(() => {})
  try {
    return await Promise.race([work, late])
  } finally {
    clearTimeout(timer)
  }
}
