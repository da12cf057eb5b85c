import { refDebounced } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { api, ask, type Schemas } from '../../api/client'
import { useComputed } from '../../core/query'

/** What a door does after a grant and without power, and what its controller's firmware lacks: as its draft has it. */
export function useCourse(door: Ref<Schemas['Door'] | undefined>, on: () => boolean) {
  const text = computed(() => (door.value ? JSON.stringify({ ...door.value, name: '-' }) : ''))
  const settled = refDebounced(text, 250)
  const query = useComputed(
    'door course',
    () => [settled.value],
    (signal) => ask(api.POST('/api/door-course', { body: JSON.parse(settled.value) as Schemas['Door'], signal })),
    () => on() && settled.value !== '',
  )
  const course = ref<Schemas['DoorCourse']>()
  watch(
    () => query.data.value,
    (c) => c && (course.value = c),
    { immediate: true },
  )
  return course
}
