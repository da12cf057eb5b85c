import { ref } from 'vue'
import type { Schemas } from '../../api/client'

/** What of a controller's events answers somebody at the door. */
export const answers = new Set([
  'granted',
  'refused',
  'awaiting-pin',
  'forced',
  'held-open',
  'not-taken',
  'keypad-locked',
  'duress',
  'held-warning',
  'floor-chosen',
  'floor-refused',
])

/** The event that the bench tells of, and the one that was chosen to be. */
export const benchSaid = ref<Schemas['Said']>()
export const chosenSaid = ref<number>()
