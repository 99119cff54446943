import { describe, expect, it } from 'vitest'
import { vShownText } from './shownText'

/** A field that counts how often its text is set. */
function fieldWith(text = '') {
  let sets = 0
  const field = {
    get value() {
      return text
    },
    set value(now: string) {
      sets++
      text = now
    },
  } as HTMLInputElement
  return { field, sets: () => sets }
}

describe('the text of a field', () => {
  it('is set at first only where there is one', () => {
    const blank = fieldWith()
    vShownText.beforeMount(blank.field, { value: '' })
    expect([blank.field.value, blank.sets()]).toEqual(['', 0])
    const filled = fieldWith()
    vShownText.beforeMount(filled.field, { value: '12' })
    expect([filled.field.value, filled.sets()]).toEqual(['12', 1])
  })

  it('follows what it is to show, also back to nothing, and leaves what stands there already', () => {
    const { field, sets } = fieldWith('12')
    vShownText.beforeUpdate(field, { value: '12' })
    expect(sets()).toBe(0)
    vShownText.beforeUpdate(field, { value: '7' })
    vShownText.beforeUpdate(field, { value: '' })
    expect([field.value, sets()]).toEqual(['', 2])
  })
})
