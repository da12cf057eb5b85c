import { onScopeDispose, ref, shallowReactive } from 'vue'

/** A key, or a chord as Ctrl+S, and what it does; Ctrl stands for the Mac's command key too. */
export type Binding = {
  keys: string
  what: string
  run: (e: KeyboardEvent) => void
  /** It works where something is typed as well; chords always do. */
  typing?: boolean
  /** It works while a dialog is open; all others rest then. */
  dialog?: boolean
}

type Scope = { name: string; bindings: Binding[] }

const scopes = shallowReactive(new Set<Scope>())
const stored = 'single keys'
/** Whether keys of one letter do something; who speaks to their machine may switch them off (WCAG 2.1.4). */
export const singleKeys = ref(localStorage.getItem(stored) !== 'off')

export function setSingleKeys(on: boolean) {
  singleKeys.value = on
  localStorage.setItem(stored, on ? 'on' : 'off')
}

/** Keys that work for as long as the component lives. The newest scope is asked first. */
export function useKeys(name: string, bindings: Binding[]) {
  const scope = { name, bindings }
  scopes.add(scope)
  onScopeDispose(() => scopes.delete(scope))
}

/** What works now, by scope, the oldest first. */
export const bindingsNow = (): Scope[] => [...scopes]

const chord = (keys: string) => keys.includes('+') && keys.length > 1

/** How a key press is written in a binding. */
export function written(e: KeyboardEvent): string {
  const key = e.key.length === 1 ? e.key.toLowerCase() : e.key
  const before = (e.ctrlKey || e.metaKey ? 'ctrl+' : '') + (e.altKey ? 'alt+' : '')
  return before + (before && e.shiftKey ? 'shift+' : '') + key.toLowerCase()
}

const typesInto = (el: EventTarget | null) =>
  el instanceof HTMLElement &&
  (el.isContentEditable || (el.matches('input, textarea, select') && !el.matches('[type=checkbox], [type=radio]')))

/** Whether a dialog lies over everything. */
export const dialogOpen = () => !!document.querySelector('[role="dialog"][aria-modal="true"]')

export function pressed(e: KeyboardEvent) {
  if (e.defaultPrevented) return
  const said = written(e)
  const over = dialogOpen()
  for (const scope of [...scopes].reverse()) {
    for (const b of scope.bindings) {
      if (!b.keys.split(' ').some((k) => k.toLowerCase() === said)) continue
      const single = !chord(b.keys) && said.length === 1
      if (over && !b.dialog) continue
      if (single && b.keys !== '?' && !singleKeys.value) continue
      if (!chord(b.keys) && !b.typing && typesInto(e.target)) continue
      e.preventDefault()
      b.run(e)
      return
    }
  }
  // The browser would keep the page itself as a file; here there is nothing to be saved behind a question.
  if (said === 'ctrl+s') e.preventDefault()
}

window.addEventListener('keydown', pressed)
