import { readFileSync, writeFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { expressionsPage, workedResult } from './document'
import { FUNCTIONS } from './functions'

const PAGE = new URL('../../docs/expressions.md', import.meta.url)

describe('docs/expressions.md', () => {
  it('is what the code says', () => {
    if (process.env.LANTERN_WRITE) writeFileSync(PAGE, expressionsPage())
    expect(readFileSync(PAGE, 'utf8')).toBe(expressionsPage())
  })

  it.each(Object.entries(FUNCTIONS))('has a worked line of %s that uses it', (name, { example }) => {
    expect(example).toContain(`${name}(`)
    expect(workedResult(example)).not.toBe('blank')
  })
})
