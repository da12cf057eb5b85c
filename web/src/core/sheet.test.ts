import { fireEvent, waitFor } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import { defineComponent, h, nextTick } from 'vue'
import { api, ask, type Schemas } from '../api/client'
import { Held, holding, useServer } from '../test/server'
import { page } from '../test/mount'
import { forgetDrafts } from './drafts'
import { touched } from './live'
import { fetchObject } from './query'
import { useSheet, type SheetOptions } from './sheet'
import { useSite } from './site'

type Person = Schemas['Person']
let sheet: ReturnType<typeof useSheet<Person>>
const path = { path: { id: 7 } }

const Sheet = (more: Partial<SheetOptions<Person>> = {}) =>
  defineComponent(() => {
    sheet = useSheet<Person>({
      kind: 'person',
      id: 7,
      name: (p) => p.name,
      load: (signal) => fetchObject('person', 7, signal),
      store: (value, rev) => ask(api.PUT('/api/people/{id}', { params: path, body: { rev, value } })),
      ...more,
    })
    return () =>
      h('main', [
        h('p', sheet.phase.value),
        ...(['name', 'note'] as const).map((k) =>
          h('input', {
            id: k,
            'aria-label': k,
            'aria-invalid': sheet.fields.value[k] ? 'true' : undefined,
            value: sheet.draft.value?.[k] ?? '',
            onInput: (e: Event) => (sheet.draft.value![k] = (e.target as HTMLInputElement).value),
          }),
        ),
      ])
  })

const ada = {
  id: 7,
  name: 'Ada',
  note: 'Crew',
  suspended: false,
  extendedTime: false,
  alwaysPin: false,
  credentials: [],
  levels: [],
}
let held: Held
const noticed = () => touched([{ kind: 'person', id: 7, rev: held.gone ? 0 : held.rev }])

useServer()
beforeEach(() => {
  forgetDrafts()
  held = new Held({ ...ada })
  holding(held)
})

async function open(more?: Partial<SheetOptions<Person>>) {
  const p = await page(Sheet(more))
  await waitFor(() => expect(sheet.phase.value).toBe('clean'))
  const type = async (field: string, text: string) => {
    await fireEvent.update(p.getByLabelText(field), text)
    await nextTick()
  }
  return { ...p, type }
}

describe('a sheet', () => {
  it('goes from loading to clean to changed, and back by discarding or typing the same again', async () => {
    held.slow = 20
    const p = await page(Sheet())
    expect(sheet.phase.value).toBe('loading')
    await waitFor(() => expect(sheet.phase.value).toBe('clean'))
    await fireEvent.update(p.getByLabelText('name'), 'Bea')
    expect(sheet.phase.value).toBe('changed')
    await fireEvent.update(p.getByLabelText('name'), 'Ada')
    expect(sheet.phase.value).toBe('clean')
    await fireEvent.update(p.getByLabelText('name'), 'Bea')
    sheet.discard()
    expect(sheet.draft.value!.name).toBe('Ada')
  })

  it('never touches a changed field when a colleague saves something else, however late the answer', async () => {
    const p = await open()
    await p.type('name', 'Ad')
    held.slow = 400
    held.change({ note: 'Kiosk' })
    noticed()
    await p.type('name', 'Ada Reed')
    await waitFor(() => expect(sheet.draft.value!.note).toBe('Kiosk'), { timeout: 3000 })
    expect(sheet.draft.value!.name).toBe('Ada Reed')
    held.slow = 0
    expect(await sheet.save()).toBe(true)
    expect(held.value).toMatchObject({ name: 'Ada Reed', note: 'Kiosk' })
  })

  it('writes over a change of other fields by itself, once', async () => {
    const p = await open()
    await p.type('name', 'Bea')
    held.change({ note: 'Kiosk' }) // and no notice has come
    expect(await sheet.save()).toBe(true)
    expect(held.value).toMatchObject({ name: 'Bea', note: 'Kiosk' })
    expect(held.saves).toHaveLength(2)
    expect(sheet.phase.value).toBe('clean')
  })

  it('does not fetch back somebody who went elsewhere while it was saved', async () => {
    const added: number[] = []
    const p = await open({ added: (v) => added.push(v.rev) })
    await p.type('name', 'Bea')
    expect(await sheet.save()).toBe(true)
    expect(added).toHaveLength(1)
    await p.type('name', 'Cleo')
    held.slow = 50
    const saving = sheet.save()
    p.unmount()
    expect(await saving).toBe(true)
    expect(held.value.name).toBe('Cleo')
    expect(added).toHaveLength(1)
  })

  it.each(['mine', 'theirs'] as const)(
    'shows both values where the same field was changed, and saves %s',
    async (whose) => {
      const p = await open()
      await p.type('name', 'Bea')
      held.change({ name: 'Cleo' })
      expect(await sheet.save()).toBe(false)
      expect(sheet.phase.value).toBe('conflict')
      expect(sheet.clashes.value).toEqual([{ path: 'name', base: 'Ada', mine: 'Bea', theirs: 'Cleo' }])
      expect(await sheet.save()).toBe(false) // until it is chosen
      sheet.settle(sheet.clashes.value[0]!, whose)
      if (whose === 'theirs') return expect(sheet.phase.value).toBe('clean')
      expect(await sheet.save()).toBe(true)
      expect(held.value.name).toBe('Bea')
    },
  )

  it('is gone when somebody removes the thing, keeps the draft, and is back with it', async () => {
    const p = await open()
    await p.type('name', 'Bea')
    held.gone = true
    noticed()
    await waitFor(() => expect(sheet.phase.value).toBe('gone'))
    held.gone = false
    held.change({})
    noticed()
    await waitFor(() => expect(sheet.phase.value).toBe('changed'))
    expect(sheet.draft.value!.name).toBe('Bea')
    expect(await sheet.save()).toBe(true)
  })

  it('waits for a new sign-in and saves then', async () => {
    const p = await open()
    await p.type('name', 'Bea')
    held.signedIn = false
    const saved = sheet.save()
    await waitFor(() => expect(sheet.phase.value).toBe('signed out'))
    expect(useSite().ended).toBe(true)
    held.signedIn = true
    useSite().ended = false
    expect(await saved).toBe(true)
    expect(held.value.name).toBe('Bea')
  })

  it('saves once, however often it is pressed', async () => {
    const p = await open()
    await p.type('name', 'Bea')
    held.slow = 30
    const all = await Promise.all([sheet.save(), sheet.save(), sheet.save()])
    expect(all).toEqual([true, false, false])
    expect(held.saves).toHaveLength(1)
  })

  it('waits for what is still under way before it writes', async () => {
    const p = await open()
    await p.type('name', 'B')
    void sheet.wait(new Promise<void>((done) => setTimeout(() => ((sheet.draft.value!.name = 'Bea'), done()), 40)))
    expect(await sheet.save()).toBe(true)
    expect(held.value.name).toBe('Bea')
  })

  it('outlives going elsewhere, and takes what changed meanwhile under the draft', async () => {
    const p = await open()
    await p.type('name', 'Bea')
    p.unmount()
    held.change({ note: 'Kiosk' })
    await page(Sheet())
    await waitFor(() => expect(sheet.draft.value?.note).toBe('Kiosk'))
    expect(sheet.draft.value!.name).toBe('Bea')
    expect(sheet.phase.value).toBe('changed')
  })

  it('puts the focus on the first field that was refused, and says why', async () => {
    const p = await open()
    await p.type('note', 'x')
    held.refuses = { location: 'note', message: 'at most 400 letters' }
    expect(await sheet.save()).toBe(false)
    expect(sheet.fields.value.note).toBe('at most 400 letters')
    await waitFor(() => expect(document.activeElement?.id).toBe('note'))
    expect(sheet.draft.value!.note).toBe('x')
  })

  it('goes back and forth over the whole sheet', async () => {
    const p = await open()
    p.getByLabelText('name').focus()
    await p.type('name', 'Bea')
    p.getByLabelText('note').focus()
    await p.type('note', 'Kiosk')
    sheet.undo()
    expect(sheet.draft.value).toMatchObject({ name: 'Bea', note: 'Crew' })
    sheet.undo()
    expect(sheet.phase.value).toBe('clean')
    sheet.redo()
    sheet.redo()
    expect(sheet.draft.value).toMatchObject({ name: 'Bea', note: 'Kiosk' })
  })

  it('is not saved where something hinders it, and nothing is asked of the server', async () => {
    const p = await open({ hinders: () => 'The hours are not understood.' })
    await p.type('name', 'Bea')
    expect(await sheet.save()).toBe(false)
    expect(sheet.problem.value).toBe('The hours are not understood.')
    expect(held.saves).toHaveLength(0)
  })
})
