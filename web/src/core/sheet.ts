import { useQuery } from '@tanstack/vue-query'
import {
  computed,
  inject,
  nextTick,
  onScopeDispose,
  provide,
  ref,
  shallowReactive,
  watch,
  type InjectionKey,
  type Ref,
} from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { Trouble } from '../api/client'
import { draftKey, drafts } from './drafts'
import { useKeys } from './keys'
import { copy, merge, put, same, type Clash } from './merge'
import { client, keys, type Versioned } from './query'
import { useSite } from './site'
import { back, begin, forth, take, type Steps } from './steps'

/** What a sheet is doing. Conflict: somebody else changed the same fields. Gone: somebody removed the thing. */
export type Phase = 'loading' | 'failed' | 'clean' | 'changed' | 'saving' | 'conflict' | 'gone' | 'signed out'

export type SheetOptions<T> = {
  kind: string
  id: number
  load: (signal?: AbortSignal) => Promise<Versioned<T>>
  store: (mine: T, rev: number) => Promise<Versioned<T>>
  /** What it is called in the list of what is unsaved. */
  name?: (mine: T) => string
  /** What to do once a new thing has its number. */
  added?: (v: Versioned<T>) => void
  /** Why it cannot be saved now; empty: it can. */
  hinders?: () => string
}

export type FieldErrors = {
  fields: Ref<Record<string, string>>
  clashes: Ref<Clash[]>
  settle: (c: Clash, whose: 'mine' | 'theirs') => void
  /** Says which faults show at their fields for as long as the component lives. */
  place: (shows: (path: string) => boolean) => void
}
export const fieldErrors: InjectionKey<FieldErrors> = Symbol('what is wrong with fields')

/** A thing under edit: what is stored, what is drafted over it, and what the server said against it. */
export function useSheet<T extends object>(o: SheetOptions<T>) {
  const site = useSite()
  const router = useRouter()
  const route = useRoute()
  const at = o.id || o.kind === 'settings' ? draftKey(o.kind, o.id) : `${draftKey(o.kind, 0)} ${route.fullPath}`
  const key = o.id || o.kind === 'settings' ? keys.object(o.kind, o.id) : ['new', o.kind, route.fullPath]

  const query = useQuery({
    queryKey: key,
    queryFn: ({ signal }) => o.load(signal),
    gcTime: o.id || o.kind === 'settings' ? undefined : 0, // a new thing is new each time
    shallow: true,
  })

  const stored = ref() as Ref<Versioned<T> | undefined>
  const draft = ref() as Ref<T | undefined>
  const problem = ref('')
  const fields = ref<Record<string, string>>({})
  const clashes = ref<Clash[]>([]) as Ref<Clash[]>
  const saving = ref(false)
  const signedOut = ref(false)
  const told = ref('') // what else happened to it
  const steps = ref() as Ref<Steps<T> | undefined>
  let ownSave = false
  let left = false

  const dirty = computed(() => !!stored.value && !same(draft.value, stored.value.value))
  const missing = computed(() => query.error.value instanceof Trouble && query.error.value.status === 404)
  const phase = computed<Phase>(() => {
    if (signedOut.value) return 'signed out'
    if (saving.value) return 'saving'
    if (missing.value) return 'gone'
    if (!stored.value) return query.error.value ? 'failed' : 'loading'
    if (clashes.value.length) return 'conflict'
    return dirty.value ? 'changed' : 'clean'
  })

  function set(v: Versioned<T>, mine: T) {
    stored.value = { rev: v.rev, value: copy(v.value) }
    draft.value = copy(mine)
    steps.value = begin(mine)
  }
  /** What the server holds has come: it goes under the draft, and touches no field that was changed here. */
  function arrived(v: Versioned<T>) {
    const kept = drafts[at]
    if (!stored.value) {
      const base = (kept?.base ?? v) as Versioned<T>
      set(base, (kept?.mine ?? v.value) as T)
      if (!kept) return
    }
    if (v.rev === stored.value!.rev) return
    const m = merge(stored.value!.value, draft.value!, v.value)
    const hadChanges = dirty.value
    stored.value = { rev: v.rev, value: copy(v.value) }
    draft.value = m.value
    steps.value = hadChanges ? take(steps.value!, m.value) : begin(m.value)
    clashes.value = m.clashes
    if (hadChanges && !m.clashes.length)
      told.value = 'Somebody else has changed other fields meanwhile; both changes are here.'
    problem.value = m.clashes.length ? '' : problem.value
  }
  // While it is saved here, the answer to that says what is stored.
  watch(query.data, (v) => v && !ownSave && arrived(v as Versioned<T>), { immediate: true })

  // The draft is kept as it is typed; what is as it was stored is no draft.
  let lastPath = ''
  let lastAt = 0
  watch(
    draft,
    (mine) => {
      if (!mine || !stored.value) return
      if (dirty.value)
        drafts[at] = {
          kind: o.kind,
          id: o.id,
          name: o.name?.(mine) || o.kind,
          path: route.fullPath,
          base: copy(stored.value),
          mine: copy(mine),
        }
      else delete drafts[at]
      const path = (document.activeElement as HTMLElement | null)?.id ?? ''
      const sameStep = path !== '' && path === lastPath && Date.now() - lastAt < 1500
      lastPath = path
      lastAt = Date.now()
      if (steps.value) steps.value = take(steps.value, mine, sameStep)
    },
    { deep: true },
  )

  // What is still under way, as a text that is being read: saving waits for it.
  const underWay = new Set<Promise<unknown>>()
  function wait<R>(work: Promise<R>): Promise<R> {
    const done = work.catch(() => {}).finally(() => underWay.delete(done))
    underWay.add(done)
    return work
  }
  /** What is typed counts once its field is left. */
  async function settled() {
    const field = document.activeElement as HTMLElement | null
    if (field?.matches('input, textarea')) field.dispatchEvent(new Event('change', { bubbles: true }))
    do {
      await nextTick()
      await Promise.all(underWay)
    } while (underWay.size)
  }

  function refused(e: unknown) {
    problem.value = (e as Error).message
    fields.value = e instanceof Trouble ? e.fields : {}
    void nextTick(() => {
      const first = document.querySelector<HTMLElement>('main [aria-invalid="true"]')
      ;(first ?? document.querySelector<HTMLElement>('[data-problem]'))?.focus()
    })
  }
  /** Writes over what is stored; what somebody else changed in between is laid under it and written once more. */
  async function write(again = true): Promise<Versioned<T>> {
    try {
      return await o.store(copy(draft.value!), stored.value!.rev)
    } catch (e) {
      if (e instanceof Trouble && e.status === 401) {
        signedOut.value = site.ended = true
        await new Promise<void>((done) => {
          const stop = watch(
            () => site.ended,
            (ended) => !ended && (stop(), done()),
          )
        })
        signedOut.value = false
        return write(again)
      }
      if (!(e instanceof Trouble && e.status === 409 && again && o.id)) throw e
      const fresh = await o.load()
      if (fresh.rev === stored.value!.rev) throw e // refused for another reason
      arrived(fresh)
      if (clashes.value.length) throw new Clashed()
      return write(false)
    }
  }
  async function save(): Promise<boolean> {
    if (saving.value) return false
    saving.value = true
    try {
      await settled()
      if (!draft.value || !stored.value || (!dirty.value && o.id) || clashes.value.length || missing.value) return false
      const hindrance = o.hinders?.()
      if (hindrance) throw new Error(hindrance)
      ownSave = true
      const v = await write()
      delete drafts[at]
      problem.value = told.value = ''
      fields.value = {}
      set(v, v.value)
      if (o.id || o.kind === 'settings') client.setQueryData(key, v)
      if (!left) o.added?.(v) // who has gone elsewhere meanwhile is not fetched back
      return true
    } catch (e) {
      if (!(e instanceof Clashed)) refused(e)
      return false
    } finally {
      ownSave = false
      saving.value = false
    }
  }
  function discard() {
    if (!stored.value) return
    draft.value = copy(stored.value.value)
    steps.value = begin(stored.value.value)
    delete drafts[at]
    problem.value = told.value = ''
    fields.value = {}
    clashes.value = []
  }
  /** Chooses whose value of a field stays. */
  function settle(c: Clash, whose: 'mine' | 'theirs') {
    put(draft.value!, c.path, c[whose])
    clashes.value = clashes.value.filter((x) => x !== c)
  }
  function step(way: typeof back) {
    if (!steps.value || saving.value) return
    const next = way(steps.value)
    if (next === steps.value) return
    steps.value = next
    draft.value = copy(next.now)
  }
  const undo = () => step(back)
  const redo = () => step(forth)
  /** Drops the draft and goes, or goes back; nothing is asked. */
  function leave(to?: string) {
    discard()
    void (to ? router.push(to) : router.back())
  }

  useKeys('This sheet', [
    { keys: 'Ctrl+S', what: 'Save', run: () => void save(), typing: true },
    { keys: 'Ctrl+Z', what: 'Undo the last change', run: undo, typing: true },
    { keys: 'Ctrl+Y Ctrl+Shift+Z', what: 'Do it again', run: redo, typing: true },
  ])
  const places = shallowReactive(new Set<(path: string) => boolean>())
  function place(shows: (path: string) => boolean) {
    places.add(shows)
    onScopeDispose(() => places.delete(shows))
  }
  /** What is wrong with fields that have no place of their own; it shows beside Save. */
  const unplaced = computed(() =>
    Object.entries(fields.value).filter(([path, words]) => path && words && ![...places].some((shows) => shows(path))),
  )
  provide(fieldErrors, { fields, clashes, settle, place })
  onScopeDispose(() => {
    ownSave = false
    left = true
  })

  return {
    stored,
    draft,
    dirty,
    busy: saving,
    problem,
    fields,
    missing,
    phase,
    unplaced,
    place,
    clashes,
    told,
    query,
    canUndo: computed(() => !!steps.value?.past.length),
    canRedo: computed(() => !!steps.value?.future.length),
    reload: () => query.refetch(),
    save,
    discard,
    leave,
    settle,
    undo,
    redo,
    wait,
  }
}

class Clashed extends Error {}

/** What is wrong with the fields of the sheet around. */
export const useFieldErrors = () => inject(fieldErrors, undefined)
