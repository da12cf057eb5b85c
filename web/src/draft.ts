import { computed, onBeforeUnmount, onMounted, ref, watch, type Ref } from 'vue'
import { onBeforeRouteLeave, onBeforeRouteUpdate, useRouter } from 'vue-router'
import { Trouble } from './api/client'
import { sure } from './parts/sure'
import { useSite } from './site'

type Versioned<T> = { rev: number; value: T }

/**
 * A thing under edit: what is stored, what is drafted over it, and what the server said against it. Ctrl S saves as the
 * sheet does, where it has more to do than to write.
 */
export function useDraft<T extends object>(load: () => Promise<Versioned<T>>, store: (draft: T, rev: number) => Promise<Versioned<T>>, bySheet?: () => unknown) {
  const site = useSite()
  const router = useRouter()
  const stored = ref() as Ref<Versioned<T> | undefined>
  const draft = ref() as Ref<T | undefined>
  const problem = ref('')
  const fields = ref<Record<string, string>>({})
  const busy = ref(false)
  const missing = ref(false)

  const dirty = computed(() => !!stored.value && JSON.stringify(draft.value) !== JSON.stringify(stored.value.value))

  async function reload() {
    try {
      stored.value = await load()
      draft.value = JSON.parse(JSON.stringify(stored.value.value)) as T
      problem.value = ''
      fields.value = {}
    } catch (e) {
      missing.value = e instanceof Trouble && e.status === 404
      problem.value = (e as Error).message
    }
  }
  /** Takes what others changed, unless something was typed or saved here while it was on its way. */
  async function refresh() {
    const before = stored.value
    try {
      const fresh = await load()
      if (dirty.value || busy.value || stored.value !== before) return
      stored.value = fresh
      discard()
    } catch (e) {
      missing.value = e instanceof Trouble && e.status === 404
      problem.value = (e as Error).message
    }
  }
  async function save(): Promise<boolean> {
    if (!draft.value || !stored.value || busy.value) return false
    busy.value = true
    try {
      stored.value = await store(draft.value, stored.value.rev)
      draft.value = JSON.parse(JSON.stringify(stored.value.value)) as T
      problem.value = ''
      fields.value = {}
      return true
    } catch (e) {
      problem.value = (e as Error).message
      fields.value = e instanceof Trouble ? e.fields : {}
      return false
    } finally {
      busy.value = false
    }
  }
  function discard() {
    if (!stored.value) return
    draft.value = JSON.parse(JSON.stringify(stored.value.value)) as T
    problem.value = ''
    fields.value = {}
  }
  /** Drops the draft and goes, or goes back; nothing is asked. */
  function leave(to?: string) {
    discard()
    void (to ? router.push(to) : router.back())
  }
  watch(() => site.version, () => { if (!dirty.value && !busy.value) void refresh() })

  const stay = async () => !dirty.value || (await sure('Leave without saving?', 'Your change is discarded.', 'Leave', 'Stay'))
  onBeforeRouteLeave(stay)
  onBeforeRouteUpdate(stay)
  const unload = (e: BeforeUnloadEvent) => { if (dirty.value) e.preventDefault() }
  const key = (e: KeyboardEvent) => {
    if ((e.ctrlKey || e.metaKey) && e.key === 's') {
      e.preventDefault()
      const field = document.activeElement as HTMLElement | null // what is typed there counts once it is left
      field?.blur()
      field?.focus()
      if (dirty.value) void (bySheet ?? save)()
    }
  }
  onMounted(() => { window.addEventListener('beforeunload', unload); window.addEventListener('keydown', key) })
  onBeforeUnmount(() => { window.removeEventListener('beforeunload', unload); window.removeEventListener('keydown', key) })

  return { stored, draft, dirty, busy, problem, fields, missing, reload, save, discard, leave }
}
