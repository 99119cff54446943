import '../support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Outline } from '#core/geography/outline'
import { closeDatabase, type Database } from '../../server/database'
import { branchMap, saveOutline } from '../../server/units/outlines'
import { makeInstallation, personOf } from '../support/installation'

const admin = personOf('administrator', null)
const ring: [number, number][] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 0],
]
const TRIANGLE: Outline = { type: 'Polygon', coordinates: [ring] }
let sql: Database
beforeAll(async () => {
  sql = await makeInstallation()
  await sql.query(`UPDATE unit SET latitude = 0.4, longitude = 0.6 WHERE code IN ('elm', 'ash', 'quay')`)
})
afterAll(closeDatabase)

describe('the outline of a unit', () => {
  it('is on the map of its branch, and of what lies within; the newest holds', async () => {
    await saveOutline(admin, 'north', {
      type: 'Polygon',
      coordinates: [[...ring.slice(0, 3), [0, 2], [0, 0]]],
    })
    await saveOutline(admin, 'north', TRIANGLE)
    const north = await branchMap(personOf('officer', 'north'))
    expect(north.outlines).toEqual([{ unit: { code: 'north', name: 'north' }, geometry: TRIANGLE }])
    expect(north.places).toEqual([{ code: 'elm', latitude: 0.4, longitude: 0.6 }])
    expect((await branchMap(admin, 'quay')).outlines).toHaveLength(1)
    expect((await branchMap(personOf('officer', 'south'))).outlines).toEqual([])
    expect((await branchMap(admin)).places.map(({ code }) => code)).toEqual(['ash', 'elm'])
  })

  it('can be taken away; what it was stays in the history', async () => {
    await saveOutline(admin, 'north', null)
    expect((await branchMap(admin)).outlines).toEqual([])
    expect(await sql.query('SELECT count(*)::int AS count FROM unit_outline')).toEqual([{ count: 3 }])
  })

  it('is refused at its place when it is none, and beyond the border', async () => {
    await expect(
      saveOutline(admin, 'north', { type: 'Polygon', coordinates: [ring.slice(0, 3)] }),
    ).rejects.toMatchObject({
      status: 422,
      code: 'outline-ring',
      problems: [{ at: 'body/geometry' }],
    })
    const ofSouth = personOf('administrator', 'south')
    await expect(saveOutline(ofSouth, 'north', TRIANGLE)).rejects.toMatchObject({ status: 403 })
    await expect(branchMap(ofSouth, 'north')).rejects.toMatchObject({ status: 403 })
    await expect(saveOutline(admin, 'nowhere', TRIANGLE)).rejects.toMatchObject({ status: 404 })
  })
})
