const MORNING = 6

/** Six in the morning, which is to come: most sites have few visitors then. */
export function nextMorning(now: Date): Date {
  const morning = new Date(now.getFullYear(), now.getMonth(), now.getDate(), MORNING)
  if (morning <= now) morning.setDate(morning.getDate() + 1)
  return morning
}

const two = (n: number) => String(n).padStart(2, '0')

/** A moment as a date field has it: by this device's clock, to the minute, never before the moment itself. */
export function atInput(moment: Date): string {
  const at = new Date(Math.ceil(moment.getTime() / 60_000) * 60_000)
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}T${two(at.getHours())}:${two(at.getMinutes())}`
}

/** The moment that a date field says. */
export const atHour = (text: string): Date => new Date(text)

/** Minutes of a day as a time field has them; midnight at its end is 00:00, as there is no 24:00. */
export const clock = (minutes: number): string => `${two(Math.floor(minutes / 60) % 24)}:${two(minutes % 60)}`

/** @param isEnd Whether 00:00 is the end of the day. NaN where nothing is written. */
export function minutesOf(text: string, isEnd: boolean): number {
  const [hours, minutes] = text.split(':').map(Number)
  const found = text === '' ? Number.NaN : 60 * hours! + minutes!
  return isEnd && found === 0 ? 1440 : found
}
