/** Moments are kept in UTC and shown by the clock of whoever looks, the year first. A date alone is that day anywhere. */

const two = (n: number) => String(n).padStart(2, '0')
const dayOf = (d: Date) => `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`

function read(at: string): Date | null {
  const d = at.includes('T') ? new Date(at) : null
  return d && !Number.isNaN(d.getTime()) ? d : null
}

/** The day, '' of nothing. */
export function day(at: string): string {
  const d = read(at)
  return d ? dayOf(d) : at.slice(0, 10)
}

/** Day and time to the minute, '' of nothing. */
export function minute(at: string): string {
  const d = read(at)
  return d ? `${dayOf(d)} ${two(d.getHours())}:${two(d.getMinutes())}` : at.slice(0, 16)
}

/** Today, where this page is looked at. */
export const today = () => dayOf(new Date())
