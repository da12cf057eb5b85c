import { shallowRef } from 'vue'

/** How a site writes times and weeks. The server speaks in 24-hour times; this is how they are shown and typed. */
export const style = shallowRef({ twelveHour: false, fromSunday: false })

/** A minute of the day as 08:30 in the 24-hour clock; 1440 is 24:00, and past it the next day's. */
export function clock24(minute: number): string {
  const m = minute > 1440 ? minute - 1440 : minute
  return `${String(Math.floor(m / 60)).padStart(2, '0')}:${String(m % 60).padStart(2, '0')}`
}

const half = (h: number, rest: string) => `${((h + 11) % 12) + 1}${rest} ${h % 24 < 12 ? 'am' : 'pm'}`

/** A minute of the day as the site writes it: 08:30 or 8:30 am. */
export function clock(minute: number): string {
  const text = clock24(minute)
  return style.value.twelveHour ? inClock(text) : text
}

/** An hour at the edge of a drawing: 15 or 3p. */
export const hourMark = (h: number) =>
  style.value.twelveHour ? `${((h + 11) % 12) + 1}${h % 24 < 12 ? 'a' : 'p'}` : String(h).padStart(2, '0')

/** A text with its times, such as until 22:00, as the site writes them. Longer numbers and addresses stay. */
export function inClock(text: string): string {
  if (!style.value.twelveHour) return text
  return text.replace(/(?<![\d.:])([01]?\d|2[0-4]):([0-5]\d)(:[0-5]\d)?(?![\d:])/g, (_, h: string, m: string, s = '') =>
    half(Number(h), `:${m}${s}`),
  )
}

/**
 * Reads a time as people type it: 18:30, 18.30, 1830, 18, 6:30 pm, 6pm, noon, midnight; in minutes of the day, up to
 * 24:00. Nothing where it is none.
 */
export function readTime(text: string): number | undefined {
  const s = text.trim().toLowerCase()
  if (s === 'noon') return 720
  if (s === 'midnight') return 0
  const m = /^(\d{1,2})(?:[:.h]?(\d\d))?\s*(?:(a|p)\.?m?\.?)?$/.exec(s)
  if (!m) return undefined
  const [h, min] = [Number(m[1]), Number(m[2] ?? 0)]
  if (min > 59) return undefined
  if (m[3]) return h >= 1 && h <= 12 ? ((h % 12) + (m[3] === 'p' ? 12 : 0)) * 60 + min : undefined
  const all = h * 60 + min
  return all <= 1440 ? all : undefined
}
