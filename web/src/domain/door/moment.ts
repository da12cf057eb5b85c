import { wordedDay } from '../../dates'

/** A wall-clock moment in words: Fri 25 Dec 2026 10:30. */
export const momentWords = (at: string) => `${wordedDay(at.slice(0, 10))} ${at.slice(11, 16)}`
