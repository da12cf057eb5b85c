import { effectScope } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { bindingsNow, setSingleKeys, useKeys, written } from './keys'

const press = (key: string, more: KeyboardEventInit = {}, on: EventTarget = document.body) => {
  const e = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more })
  on.dispatchEvent(e)
  return e
}
let scope = effectScope()
beforeEach(() => (scope = effectScope()))
afterEach(() => {
  scope.stop()
  setSingleKeys(true)
})
const bind = (name: string, list: Parameters<typeof useKeys>[1]) => scope.run(() => useKeys(name, list))

describe('keys', () => {
  it('are written the same with Caps Lock, Shift or the Mac’s command key', () => {
    expect(written(new KeyboardEvent('keydown', { key: 'S', ctrlKey: true }))).toBe('ctrl+s')
    expect(written(new KeyboardEvent('keydown', { key: 's', metaKey: true }))).toBe('ctrl+s')
    expect(written(new KeyboardEvent('keydown', { key: 'Z', ctrlKey: true, shiftKey: true }))).toBe('ctrl+shift+z')
    expect(written(new KeyboardEvent('keydown', { key: '?', shiftKey: true }))).toBe('?')
    expect(written(new KeyboardEvent('keydown', { key: '3', altKey: true }))).toBe('alt+3')
  })

  it('rest while a dialog is open, all but those of dialogs, and the page is not kept as a file', () => {
    const [save, help] = [vi.fn(), vi.fn()]
    bind('sheet', [
      { keys: 'Ctrl+S', what: 'Save', run: save, typing: true },
      { keys: '?', what: 'Keys', run: help, dialog: true },
    ])
    document.body.innerHTML = '<div role="dialog" aria-modal="true"></div>'
    expect(press('s', { ctrlKey: true }).defaultPrevented).toBe(true)
    press('?')
    expect(save).not.toHaveBeenCalled()
    expect(help).toHaveBeenCalledOnce()
    document.body.innerHTML = ''
    press('S', { ctrlKey: true })
    expect(save).toHaveBeenCalledOnce()
  })

  it('of one letter do nothing where somebody types, or where they are switched off', () => {
    const open = vi.fn()
    bind('bench', [{ keys: 'o', what: 'Open', run: open }])
    document.body.innerHTML = '<input id="f"><input type="checkbox" id="c">'
    press('o', {}, document.getElementById('f')!)
    expect(open).not.toHaveBeenCalled()
    press('o', {}, document.getElementById('c')!)
    expect(open).toHaveBeenCalledOnce()
    setSingleKeys(false)
    press('o')
    expect(open).toHaveBeenCalledOnce()
  })

  it('of the newest scope are asked first, and go with it', () => {
    const [old, fresh] = [vi.fn(), vi.fn()]
    bind('list', [{ keys: '/', what: 'Find', run: old }])
    const inner = effectScope()
    inner.run(() => useKeys('inner', [{ keys: '/', what: 'Find here', run: fresh }]))
    press('/')
    inner.stop()
    press('/')
    expect([fresh.mock.calls.length, old.mock.calls.length]).toEqual([1, 1])
    expect(bindingsNow().map((s) => s.name)).toEqual(['list'])
  })

  it('that something else has taken are left to it', () => {
    const run = vi.fn()
    bind('bench', [{ keys: 'Enter', what: 'Present', run }])
    document.body.innerHTML = '<button id="b"></button>'
    document.getElementById('b')!.addEventListener('keydown', (e) => e.preventDefault())
    press('Enter', {}, document.getElementById('b')!)
    expect(run).not.toHaveBeenCalled()
  })
})
