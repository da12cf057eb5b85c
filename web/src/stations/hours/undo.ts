import { computed, onBeforeUnmount, onMounted, ref } from 'vue'

/** Undo and redo over whole states, with Ctrl Z and Ctrl Y. */
export function useUndo<T>(current: () => T, restore: (state: T) => void) {
  const past = ref<string[]>([])
  const future = ref<string[]>([])
  /** Call before a change. */
  function mark() {
    past.value.push(JSON.stringify(current()))
    if (past.value.length > 100) past.value.shift()
    future.value = []
  }
  function undo() {
    const s = past.value.pop()
    if (!s) return
    future.value.push(JSON.stringify(current()))
    restore(JSON.parse(s) as T)
  }
  function redo() {
    const s = future.value.pop()
    if (!s) return
    past.value.push(JSON.stringify(current()))
    restore(JSON.parse(s) as T)
  }
  function key(e: KeyboardEvent) {
    if (!(e.ctrlKey || e.metaKey) || /INPUT|TEXTAREA/.test((e.target as HTMLElement).tagName)) return
    const k = e.key.toLowerCase()
    if (k === 'z' && !e.shiftKey) undo()
    else if (k === 'y' || (k === 'z' && e.shiftKey)) redo()
    else return
    e.preventDefault()
  }
  onMounted(() => window.addEventListener('keydown', key))
  onBeforeUnmount(() => window.removeEventListener('keydown', key))
  return { mark, undo, redo, canUndo: computed(() => past.value.length > 0), canRedo: computed(() => future.value.length > 0) }
}
