import { config } from '@vue/test-utils'
import { afterEach, beforeEach } from 'vitest'

// A page without a server behind its socket.
class Silent {
  static OPEN = 1
  readyState = 0
  onopen?: () => void
  onmessage?: (m: { data: string }) => void
  onclose?: () => void
  send() {}
  close() {}
}
Object.assign(globalThis, { WebSocket: Silent })

beforeEach(() => {
  sessionStorage.clear()
})
afterEach(() => {
  document.body.innerHTML = ''
})
config.global.stubs = {}
