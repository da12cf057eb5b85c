import { waitFor } from '@testing-library/vue'
import { http, HttpResponse } from 'msw'
import { expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { page } from '../test/mount'
import { server, useServer } from '../test/server'
import { touched } from './live'
import { useNames } from './names'

useServer()

it('asks for all names of a moment at once, and again only for the one that changed', async () => {
  const asked: string[][] = []
  const names: Record<string, string> = { 1: 'Crew', 2: 'Staff day' }
  server.use(
    http.get('*/api/names', ({ request }) => {
      const ids = new URL(request.url).searchParams.getAll('ids')
      asked.push(ids)
      return HttpResponse.json(
        ids.filter((id) => names[id]).map((id) => ({ id: Number(id), kind: 'level', name: names[id] })),
      )
    }),
  )
  const ids = ref([1, 2, 2, 3, 0])
  const p = await page(
    defineComponent(() => {
      const { nameOf } = useNames(ids)
      return () => h('p', [1, 2, 3].map(nameOf).join(', '))
    }),
  )
  p.getByText('…, …, …')
  await waitFor(() => p.getByText('Crew, Staff day, removed'))
  names[1] = 'Night crew'
  touched([{ kind: 'level', id: 1, rev: 2 }])
  await waitFor(() => p.getByText('Night crew, Staff day, removed'))
  expect(asked).toEqual([['1', '2', '3'], ['1']])
})
