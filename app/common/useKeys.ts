import { useEventListener } from '@vueuse/core'

/** One key of a page: what it does, and its words for the list under `?`. */
export interface PageKey {
  key: string
  /** Locale key of what it does. */
  says: string
  run?: () => void
  /** Works also while typing in a field. */
  inFields?: boolean
}

const shown = shallowRef<PageKey[][]>([])

const isField = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))

/** All keys that work now, for the list under `?`. */
export const keysShown = computed(() => shown.value.flat())

/** Registers a page's keys for as long as the page is there. Keys without `run` are only listed. */
export function useKeys(keys: PageKey[]): void {
  function onKey(event: KeyboardEvent) {
    // Many keyboards need AltGr for `[`: a browser reports it as Ctrl and Alt together.
    const held = (event.ctrlKey || event.altKey) && !event.getModifierState('AltGraph')
    if (held || event.metaKey || event.defaultPrevented) return
    const key = keys.find(one => one.run && one.key.toLowerCase() === event.key.toLowerCase())
    if (!key?.run || (isField(event.target) && !key.inFields)) return
    // Asked last: looking through a large page at every key that is typed holds a slow phone up.
    if (document.querySelector('.p-dialog-mask, .p-drawer-mask')) return
    event.preventDefault()
    key.run()
  }
  useEventListener('keydown', onKey)
  onMounted(() => {
    shown.value = [...shown.value, keys]
  })
  onBeforeUnmount(() => {
    shown.value = shown.value.filter(one => one !== keys)
  })
}
