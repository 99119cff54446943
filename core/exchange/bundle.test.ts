import { describe, expect, it } from 'vitest'
import { SMALL } from '../../tests/support/installation'
import { printBundle, readBundle } from './bundle'

describe('one file of everything', () => {
  it('is read as it was written, also with a byte-order mark', () => {
    const text = printBundle({
      datasets: [{ edition: SMALL, reports: [] }],
      registers: [],
      lists: [],
      groups: [],
    })
    expect(readBundle(`\uFEFF${text}`)).toMatchObject({
      ok: true,
      value: { version: 2, datasets: [{ edition: { dataset: 'small' } }] },
    })
    expect(text.endsWith('}\n')).toBe(true)
  })
  it.each([
    ['{', 'bundle-not-json'],
    ['[]', 'bundle-not-one'],
    ['null', 'bundle-not-one'],
    ['{"format":"other"}', 'bundle-not-one'],
    ['{"format":"eastward-lantern-definitions","version":3}', 'bundle-newer'],
    ['{"format":"eastward-lantern-definitions"}', 'bundle-newer'],
    ['{"format":"eastward-lantern-definitions","version":1,"lists":{}}', 'bundle-part'],
  ])('%s is refused: %s', (text, code) => {
    expect(readBundle(text)).toMatchObject({ ok: false, problems: [{ code }] })
  })
  it('of version 1 had only numbers: which kind each is stands where it is looked for now', () => {
    const old = JSON.stringify({
      format: 'eastward-lantern-definitions',
      version: 1,
      datasets: [
        {
          edition: {
            sections: [
              {
                items: [
                  { code: 'seen', number: 'count' },
                  { code: 'dose', number: 'decimal' },
                ],
              },
            ],
          },
        },
        { edition: { sections: [{ items: 3 }] } },
        null,
      ],
    })
    const read = readBundle(old)
    expect(read.ok && read.value.datasets[0]).toEqual({
      edition: {
        sections: [
          {
            items: [
              { code: 'seen', kind: 'wholeNumber' },
              { code: 'dose', kind: 'decimal' },
            ],
          },
        ],
      },
    })
    expect(read.ok && read.value.datasets.slice(1)).toEqual([{ edition: { sections: [{ items: 3 }] } }, null])
  })
  it('may lack parts', () => {
    expect(readBundle('{"format":"eastward-lantern-definitions","version":1}')).toMatchObject({
      ok: true,
      value: { datasets: [], groups: [] },
    })
  })
})
