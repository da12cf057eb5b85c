/** Dates as 2006-01-02, without a zone: the day is the same wherever it is read. */

export const days = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const months = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']

const iso = (y: number, m: number, d: number): string | undefined => {
  const t = new Date(Date.UTC(y, m - 1, d))
  return y >= 1 && y <= 9999 && t.getUTCFullYear() === y && t.getUTCMonth() === m - 1 && t.getUTCDate() === d
    ? `${String(y).padStart(4, '0')}-${String(m).padStart(2, '0')}-${String(d).padStart(2, '0')}`
    : undefined
}

export function addDays(day: string, by: number): string {
  const t = new Date(`${day}T00:00:00Z`)
  t.setUTCDate(t.getUTCDate() + by)
  return t.toISOString().slice(0, 10)
}

/**
 * Reads a date as people type it: 2026-11-27, 27.11.2026, 27/11, 27 Nov, today, tomorrow, Fri (the next one), +7.
 * Without a year it is the next such day from today on. Nothing where it is none.
 */
export function readDay(text: string, today: string): string | undefined {
  const s = text.trim().toLowerCase()
  let m = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(s)
  if (m) return iso(Number(m[1]), Number(m[2]), Number(m[3]))
  if (s === 'today') return today
  if (s === 'tomorrow') return addDays(today, 1)
  m = /^\+(\d{1,4})$/.exec(s)
  if (m) return addDays(today, Number(m[1]))
  const weekday = days.findIndex(
    (d) =>
      s.length >= 2 &&
      s.startsWith(d.toLowerCase().slice(0, 2)) &&
      /^[a-z]+$/.test(s) &&
      !months.some((x) => s.startsWith(x)),
  )
  if (weekday >= 0) {
    const now = (new Date(`${today}T00:00:00Z`).getUTCDay() + 6) % 7
    return addDays(today, (weekday - now + 7) % 7 || 7)
  }
  m = /^(\d{1,2})[./ ](\d{1,2})[./ ]?(\d{4})?$/.exec(s)
  if (m) return yearless(Number(m[1]), Number(m[2]), m[3], today)
  m = /^(\d{1,2})\.?\s*([a-z]{3,9})\.?\s*(\d{4})?$/.exec(s)
  if (m) return yearless(Number(m[1]), months.indexOf(m[2]!.slice(0, 3)) + 1, m[3], today)
  return undefined
}

function yearless(d: number, m: number, year: string | undefined, today: string): string | undefined {
  if (year) return iso(Number(year), m, d)
  const y = Number(today.slice(0, 4))
  const first = iso(y, m, d)
  return first !== undefined && first >= today ? first : (iso(y + 1, m, d) ?? first)
}

/**
 * Reads several dates, apart by commas, semicolons, lines, or blanks where each is in one word. What is no date stays as
 * it was written, so that saving says what is wrong with it.
 */
export function readDays(text: string, today: string): string[] {
  return text
    .split(/[,;\n]+/)
    .map((s) => s.trim())
    .filter(Boolean)
    .flatMap((s) => {
      const day = readDay(s, today)
      if (day) return [day]
      const words = s.split(/\s+/)
      return words.every((w) => /^\d{4}-/.test(w)) ? words.map((w) => readDay(w, today) ?? w) : [s]
    })
}

/** Fri 27 Nov 2026; empty where it is no date. */
export function wordedDay(day: string): string {
  const t = new Date(`${day}T00:00:00Z`)
  if (!/^\d{4}-\d\d-\d\d$/.test(day) || Number.isNaN(t.getTime())) return ''
  return t
    .toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' })
    .replace(',', '')
}

/** Six weeks or fewer that hold a month, Monday or Sunday first. */
export function monthGrid(month: string, sunday = false): { title: string; weeks: string[][] } {
  const first = `${month}-01`
  const lead = (new Date(`${first}T00:00:00Z`).getUTCDay() + (sunday ? 7 : 6)) % 7
  const weeks: string[][] = []
  let d = addDays(first, -lead)
  do {
    weeks.push(Array.from({ length: 7 }, (_, i) => addDays(d, i)))
    d = addDays(d, 7)
  } while (d.slice(0, 7) === month)
  const title = new Date(`${first}T00:00:00Z`).toLocaleDateString('en-GB', {
    month: 'long',
    year: 'numeric',
    timeZone: 'UTC',
  })
  return { title, weeks }
}
