import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { DEMO_PASSWORD } from '../../demo/people'
import { ROOT } from '../../scripts/setup.mjs'

const filesIn = (folder: string): string[] =>
  readdirSync(folder, { withFileTypes: true }).flatMap(entry => {
    const path = join(folder, entry.name)
    return entry.isDirectory() ? filesIn(path) : [path]
  })

describe('a production build', () => {
  it('contains nothing of the demo: neither its people nor their password', () => {
    const files = filesIn(join(ROOT, '.output')).filter(file => !file.includes('node_modules'))
    const texts = files.filter(file => /\.(m?js|json|html|css)$/.test(file))
    expect(texts.length).toBeGreaterThan(50)
    const withDemo = texts.filter(file => {
      const text = readFileSync(file, 'utf8')
      return text.includes('Ione Tamber') || text.includes(DEMO_PASSWORD)
    })
    expect(withDemo).toEqual([])
  })
})
