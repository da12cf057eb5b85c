import { inClock } from '../../clock'
import { wordedDay } from '../../dates'

/** A wall-clock moment in words: Fri 25 Dec 2026 10:30. */
export const momentWords = (at: string) => `${wordedDay(at.slice(0, 10))} ${inClock(at.slice(11, 16))}`
