import { cleanup, fireEvent, waitFor, within } from '@testing-library/vue'
import { delay, http, HttpResponse } from 'msw'
import { afterEach, beforeAll, describe, expect, it } from 'vitest'
import { defineComponent, h, nextTick, ref } from 'vue'
import { useSite } from '../core/site'
import { page } from '../test/mount'
import { server, useServer } from '../test/server'
import DataTable from './DataTable.vue'
import DoorTree from './DoorTree.vue'
import ObjectPicker from './ObjectPicker.vue'

useServer()
afterEach(cleanup)
beforeAll(() => {
  // A page without a layout has no heights; what is virtual would show nothing.
  for (const [side, n] of [
    ['clientHeight', 600],
    ['clientWidth', 300],
  ] as const)
    Object.defineProperty(HTMLElement.prototype, side, { configurable: true, get: () => n })
  HTMLElement.prototype.scrollTo = (() => {}) as never
})

const names = ['Boathouse crew', 'Cleaning crew', 'Gallery staff', 'Night watch']

describe('a picker of objects', () => {
  let asked: string[] = []
  /** Answers a search; the shorter the text, the slower. */
  function levels() {
    asked = []
    server.use(
      http.get('*/api/levels', async ({ request }) => {
        const q = new URL(request.url).searchParams.get('q') ?? ''
        asked.push(q)
        await delay(Math.max(5, 120 - 40 * q.length))
        const items = names
          .map((name, i) => ({ rev: 1, value: { id: i + 1, name } }))
          .filter((x) => x.value.name.toLowerCase().includes(q))
        return HttpResponse.json({ total: items.length, items, used: items.map(() => ({})) })
      }),
      http.get('*/api/names', ({ request }) =>
        HttpResponse.json(
          new URL(request.url).searchParams
            .getAll('ids')
            .map((id) => ({ id: Number(id), kind: 'level', name: names[Number(id) - 1] })),
        ),
      ),
    )
  }
  async function open(props: Record<string, unknown> = {}) {
    levels()
    const chosen = ref(3)
    const p = await page(
      defineComponent(
        () => () =>
          h(ObjectPicker, {
            kind: 'level',
            label: 'Level',
            modelValue: chosen.value,
            'onUpdate:modelValue': (v: number) => (chosen.value = v),
            ...props,
          } as never),
      ),
    )
    const field = p.getByRole('combobox', { name: 'Level' }) as HTMLInputElement
    return { ...p, field, chosen }
  }
  const type = async (field: HTMLElement, text: string) => {
    await fireEvent.focus(field)
    for (let n = 1; n <= text.length; n++) await fireEvent.update(field, text.slice(0, n))
  }
  const options = () => [...document.querySelectorAll('[role=option]')].map((o) => o.textContent!.trim())

  it('shows the name of what is chosen, and asks for no list before it is opened', async () => {
    const { field } = await open()
    await waitFor(() => expect(field.value).toBe('Gallery staff'))
    expect(asked).toEqual([])
  })
  it('looks in the server for what was typed, not for each letter, and a late answer changes nothing', async () => {
    const { field } = await open()
    await type(field, 'crew')
    await waitFor(() => expect(options()).toEqual(['Boathouse crew', 'Cleaning crew']))
    await new Promise((done) => setTimeout(done, 200)) // the slow answer to nothing typed has come by now
    expect(options()).toEqual(['Boathouse crew', 'Cleaning crew'])
    expect(asked.length).toBeLessThanOrEqual(2)
  })
  it('offers nothing of an earlier list that has not what was typed in its name, and says that it looks', async () => {
    const { field } = await open()
    await fireEvent.focus(field)
    await fireEvent.update(field, ' ')
    await waitFor(() => expect(options()).toHaveLength(4))
    await fireEvent.update(field, 'watch')
    await nextTick()
    expect(options()).toEqual(['Night watch'])
    await fireEvent.update(field, 'watchman')
    await nextTick()
    expect(options()).toEqual(['Looking …'])
    await waitFor(() => expect(options()[0]).toContain('Nothing has'))
  })
  it('chooses by keys, and by nothing else', async () => {
    const { field, chosen, getByRole } = await open()
    await type(field, 'crew')
    await waitFor(() => expect(options()).toHaveLength(2))
    await fireEvent.keyDown(field, { key: 'End' })
    const last = document.querySelectorAll('[role=option]')[1]!
    await waitFor(() => expect(field.getAttribute('aria-activedescendant')).toBe(last.id))
    await fireEvent.keyDown(field, { key: 'Enter' })
    await waitFor(() => expect(chosen.value).toBe(2))
    await waitFor(() => expect((document.activeElement as HTMLInputElement)?.value).toBe('Cleaning crew'))
    const again = getByRole('combobox', { name: 'Level' }) // the field is made anew with what was chosen
    await type(again, 'zzz')
    await waitFor(() => expect(options()[0]).toContain('Nothing has “zzz” in its name.'))
    await fireEvent.keyDown(again, { key: 'Enter' })
    await nextTick()
    expect(chosen.value).toBe(2)
  })
  it('offers what can be chosen besides, leaves out what cannot be, and makes a new one in place', async () => {
    const made: string[] = []
    const { field, chosen } = await open({
      besides: [{ id: 0, name: 'any level' }],
      leaveOut: [1],
      make: async (name: string) => (made.push(name), 9),
    })
    await type(field, 'crew')
    await waitFor(() => expect(options()).toEqual(['Cleaning crew', 'New: “crew”']))
    await fireEvent.mouseDown(document.querySelectorAll('[role=option]')[1]!)
    await waitFor(() => expect(chosen.value).toBe(9))
    expect(made).toEqual(['crew'])
  })
})

describe('a tree of doors', () => {
  const door = (id: number, name: string) => ({ id, name })
  const overview = {
    sites: [
      {
        ...{ id: 1, name: 'Main house' },
        floors: [
          { id: 11, name: 'Level 0', level: 0, doors: [door(101, 'Quay entrance'), door(102, 'Tide hall')] },
          { id: 12, name: 'Level 1', level: 1, doors: [door(103, 'Reading room')] },
        ],
      },
      { id: 2, name: 'Boathouse', floors: [{ id: 21, name: 'Slipway', level: 0, doors: [door(201, 'Workshop')] }] },
    ],
  }
  async function open(props: Record<string, unknown> = {}, first: number[] = []) {
    const [doors, floors] = [ref(first), ref<number[]>([])]
    const p = await page(
      defineComponent(
        () => () =>
          h(DoorTree, {
            ...{ label: 'Doors', modelValue: doors.value, floors: floors.value },
            'onUpdate:modelValue': (v: number[]) => (doors.value = v),
            'onUpdate:floors': (v: number[]) => (floors.value = v),
            ...props,
          }),
      ),
      {},
      '/here',
      () => (useSite().overview = overview as never),
    )
    const tree = await waitFor(() => p.getByRole('tree', { name: 'Doors' }))
    await waitFor(() => expect(within(tree).getAllByRole('treeitem').length).toBeGreaterThan(2))
    const item = (name: string) =>
      within(tree)
        .getAllByRole('treeitem')
        .find((x) => x.textContent!.trim().startsWith(name))!
    const state = (name: string) => item(name).getAttribute('aria-checked')
    const key = (k: string) => fireEvent.keyDown(tree, { key: k })
    const here = () => document.getElementById(tree.getAttribute('aria-activedescendant')!)?.textContent?.trim()
    return { ...p, tree, doors, floors, item, state, key, here }
  }

  it('is the top floor first, with a place for every item and one Tab stop', async () => {
    const t = await open()
    expect(
      within(t.tree)
        .getAllByRole('treeitem')
        .map((x) => x.textContent!.replace(/\d+ doors?/, '').trim()),
    ).toEqual([
      ...[
        'Main house',
        'Level 1',
        'Reading room',
        'Level 0',
        'Quay entrance',
        'Tide hall',
        'Boathouse',
        'Slipway',
        'Workshop',
      ],
    ])
    expect(t.item('Boathouse').getAttribute('aria-posinset')).toBe('2')
    expect(t.item('Tide hall').getAttribute('aria-level')).toBe('3')
    expect(t.tree.querySelectorAll('[tabindex="0"]').length).toBe(0)
  })
  it('says of a floor whether all, some or none of its doors are chosen', async () => {
    const t = await open({}, [101])
    expect([t.state('Level 0'), t.state('Main house'), t.state('Boathouse')]).toEqual(['mixed', 'mixed', 'false'])
    await fireEvent.click(t.item('Level 0'))
    expect(t.doors.value).toEqual([101, 102])
    expect(t.state('Level 0')).toBe('true')
    await fireEvent.click(t.item('Level 0'))
    expect(t.doors.value).toEqual([])
  })
  it('is walked and ticked by keys', async () => {
    const t = await open()
    for (const k of ['ArrowDown', 'ArrowDown', ' ']) await t.key(k)
    expect(t.here()).toContain('Reading room')
    expect(t.doors.value).toEqual([103])
    await t.key('ArrowLeft')
    expect(t.here()).toContain('Level 1')
    await t.key('ArrowLeft') // closed now
    expect(t.item('Level 1').getAttribute('aria-expanded')).toBe('false')
    await t.key('End')
    expect(t.here()).toContain('Workshop')
  })
  it('ticks what a search found and nothing else', async () => {
    const t = await open()
    await fireEvent.update(t.getByLabelText('Find in Doors'), 'hall')
    await waitFor(() => expect(within(t.tree).getAllByRole('treeitem')).toHaveLength(3))
    await fireEvent.click(t.item('Main house'))
    expect(t.doors.value).toEqual([102])
  })
  it('of whole places, a floor that is chosen has its doors with it', async () => {
    const t = await open({ places: true })
    await fireEvent.click(t.item('Level 0'))
    expect(t.floors.value).toEqual([11])
    expect(t.state('Tide hall')).toBe('true')
    expect(t.item('Tide hall').getAttribute('aria-disabled')).toBe('true')
    await fireEvent.click(t.item('Tide hall'))
    expect(t.doors.value).toEqual([])
  })
})

describe('a table', () => {
  const rows = Array.from({ length: 40 }, (_, i) => ({ id: i + 1, name: `Row ${i + 1}` }))
  async function open(props: Record<string, unknown> = {}) {
    const [selected, sort, opened] = [ref<number[]>([]), ref(''), ref(0)]
    const p = await page(
      defineComponent(
        () => () =>
          h(DataTable as never, {
            ...{
              label: 'Rows',
              rows,
              id: (r: { id: number }) => r.id,
              name: (r: { name: string }) => r.name,
              none: 'None yet.',
            },
            columns: [
              { id: 'name', title: 'Name', sort: 'name' },
              { id: 'kind', title: 'Kind', text: () => 'x' },
            ],
            ...{ chooses: true, selected: selected.value, sort: sort.value },
            'onUpdate:selected': (v: number[]) => (selected.value = v),
            'onUpdate:sort': (v: string) => (sort.value = v),
            onOpen: (r: { id: number }) => (opened.value = r.id),
            ...props,
          }),
      ),
    )
    const grid = p.queryByRole('grid', { name: 'Rows' })!
    const key = (k: string, more = {}) => fireEvent.keyDown(grid, { key: k, ...more })
    return { ...p, grid, key, selected, sort, opened }
  }
  it('draws no more rows than are seen, and says how many there are', async () => {
    const t = await open()
    await waitFor(() => expect(t.getAllByRole('row').length).toBeGreaterThan(5))
    expect(t.getAllByRole('row').length).toBeLessThan(30)
    expect(t.grid.getAttribute('aria-rowcount')).toBe('40')
    expect(t.container.textContent).toContain('40 in all')
  })
  it('is one Tab stop, walked by arrows; Space chooses, Shift chooses through, Enter opens', async () => {
    const t = await open()
    expect(t.grid.querySelectorAll('[tabindex="0"]')).toHaveLength(0)
    await t.key('ArrowDown')
    await t.key(' ')
    await t.key('ArrowDown', { shiftKey: true })
    await t.key('ArrowDown', { shiftKey: true })
    expect([...t.selected.value].sort()).toEqual([2, 3, 4])
    await t.key('Enter')
    expect(t.opened.value).toBe(4)
    await t.key('a', { ctrlKey: true })
    expect(t.selected.value).toHaveLength(40)
  })
  it('is sorted from its head, which is above the first row', async () => {
    const t = await open()
    await t.key('ArrowUp')
    expect(document.getElementById(t.grid.getAttribute('aria-activedescendant')!)!.textContent).toContain('Name')
    await t.key('Enter')
    expect(t.sort.value).toBe('name')
    await t.key('Enter')
    expect(t.sort.value).toBe('-name')
    await t.key('ArrowDown')
    await t.key('Enter')
    expect(t.opened.value).toBe(1)
  })
  it('tells apart: on its way, failed, empty, nothing found', async () => {
    expect((await open({ rows: [], loading: true })).getByRole('status', { name: 'Loading' })).toBeTruthy()
    cleanup()
    expect(
      (await open({ rows: [], error: new Error('The server does not answer.'), again: () => {} })).getByRole('button', {
        name: 'Try again',
      }),
    ).toBeTruthy()
    cleanup()
    expect((await open({ rows: [] })).container.textContent).toContain('None yet.')
    cleanup()
    expect((await open({ rows: [], filtered: true })).container.textContent).toContain('Nothing found')
  })
})
