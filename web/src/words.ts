import type { Mode, Schemas } from './api/client'
import { style } from './clock'

export const modes: Mode[] = ['free', 'card', 'PIN', 'card or PIN', 'card and PIN', 'barred']

export const modeClass = (m: string) => `mode-${m.toLowerCase().replaceAll(' ', '-')}`

export const modeName = (m: string) => m.charAt(0).toUpperCase() + m.slice(1)

export const duration = (minutes: number) => `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')}`

const formats = new Map<string, Intl.DateTimeFormat>()

/** An instant in a zone, in the clock of the site. */
export function at(ms: number, zone: string, options: Intl.DateTimeFormatOptions): string {
  const hours = options.hour && style.value.twelveHour
  const key = zone + JSON.stringify(options) + hours
  let f = formats.get(key)
  if (!f) {
    const how = hours ? ({ hour12: true, hour: 'numeric' } as const) : ({ hourCycle: 'h23' } as const)
    f = new Intl.DateTimeFormat('en-GB', { timeZone: zone, ...options, ...how })
    formats.set(key, f)
  }
  return f.format(ms)
}

export const timeOf = (ms: number, zone: string) =>
  at(ms, zone, { hour: '2-digit', minute: '2-digit', second: '2-digit' })
export const dateOf = (ms: number, zone: string) =>
  at(ms, zone, { weekday: 'short', day: 'numeric', month: 'short' }).replace(',', '')

/** The date of an instant in a zone, 2006-01-02. */
export function isoDay(ms: number, zone: string): string {
  const parts = new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
  }).formatToParts(ms)
  const part = (type: string) => parts.find((p) => p.type === type)!.value
  return `${part('year')}-${part('month')}-${part('day')}`
}

export const days = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

export const lockNames: Record<string, string> = {
  strike: 'Strike',
  magnetic: 'Magnetic lock',
  motor: 'Motor lock',
  bolt: 'Bolt',
  turnstile: 'Turnstile',
  barrier: 'Barrier',
  shutter: 'Shutter',
}

export const many = (n: number, one: string, more: string) =>
  n === 1 ? `1 ${one}` : `${n.toLocaleString('en')} ${more}`

/** What a type's two defaults mean, in words. */
export function typeWords(t: Pick<Schemas['HolidayType'], 'plans' | 'schedules'>): string {
  const doors =
    t.plans === 'default mode' ? 'Doors stay in their plan’s default mode' : 'Doors ask what they ask on the weekday'
  const cards = t.schedules === 'closed' ? 'schedules are closed, so cards do not work' : 'cards work as on the weekday'
  return `${doors}; ${cards}, unless a plan or a schedule says otherwise.`
}
