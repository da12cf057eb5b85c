import { ref } from 'vue'

/** The doors that were chosen together in the spine. */
export const chosenDoors = ref<number[]>([])
