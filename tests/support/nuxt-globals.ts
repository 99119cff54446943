import * as vue from 'vue'
import { vi } from 'vitest'

/**
 * Nuxt gives composables their helpers without an import. For tests that run them without Nuxt, this puts
 * Vue's and our own where they look for them. Hooks of components do nothing: there is no component.
 */
export function giveGlobals(own: Record<string, unknown> = {}): void {
  for (const name of [
    'ref',
    'shallowReactive',
    'shallowRef',
    'reactive',
    'computed',
    'watch',
    'toRaw',
    'nextTick',
    'onScopeDispose',
  ] as const)
    vi.stubGlobal(name, vue[name])
  vi.stubGlobal('useWords', () => ({ locale: vue.ref('en'), today: () => 20_766 }))
  vi.stubGlobal('onMounted', () => undefined)
  vi.stubGlobal('onBeforeUnmount', () => undefined)
  vi.stubGlobal('useRuntimeConfig', () => ({ app: { buildId: 'of the test' } }))
  vi.stubGlobal('navigator', {})
  for (const [name, value] of Object.entries(own)) vi.stubGlobal(name, value)
}
