import { expect, it } from 'vitest'
import { effectScope, nextTick, shallowRef } from 'vue'
import { useTopFirst } from './useTopFirst'
import { whenDrawn } from './whenDrawn'

const numbers = (length: number, from = 0) => Array.from({ length }, (_, at) => from + at)
/** What waits for the same frame is done in its order. */
const drawn = async () => {
  await nextTick()
  await whenDrawn()
  await whenDrawn()
}

it('changes the top of a list at once, and the rest when that is drawn', async () => {
  const scope = effectScope()
  const list = shallowRef(numbers(30))
  const shown = scope.run(() => useTopFirst(() => list.value, 6))!
  expect(shown.value).toEqual(numbers(6))
  await drawn()
  expect(shown.value).toEqual(numbers(30))

  list.value = numbers(10, 100)
  expect(shown.value).toEqual([...numbers(6, 100), ...numbers(24, 6)])
  await drawn()
  expect(shown.value).toEqual(numbers(10, 100))
  scope.stop()
})

it('ends a list that became shorter than the screen at once, and shows the last of several changes', async () => {
  const scope = effectScope()
  const list = shallowRef(numbers(30))
  const shown = scope.run(() => useTopFirst(() => list.value, 6))!
  await drawn()
  list.value = numbers(3)
  expect(shown.value).toEqual(numbers(3))
  list.value = numbers(8, 50)
  await drawn()
  expect(shown.value).toEqual(numbers(8, 50))
  scope.stop()
})
