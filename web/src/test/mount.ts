import { VueQueryPlugin } from '@tanstack/vue-query'
import { render } from '@testing-library/vue'
import { createPinia, setActivePinia } from 'pinia'
import type { Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { client } from '../core/query'

/** Puts a component on a page with a router, a store and the cache of answers, which is empty. */
export async function page(
  component: Component,
  props: Record<string, unknown> = {},
  path = '/here',
  ready = () => {},
) {
  client.clear()
  const pinia = createPinia()
  setActivePinia(pinia)
  ready()
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)', component: { template: '<i />' } }],
  })
  await router.push(path)
  const shown = render(component, {
    props,
    global: { plugins: [pinia, router, [VueQueryPlugin, { queryClient: client }]] },
  })
  return { ...shown, router, pinia }
}
