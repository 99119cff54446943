import type { LevelsSave } from '#core/contract/units'
import { mustHoldAll, type Access } from '../access/access'
import { database } from '../database'
import { lockTree } from '../database/locks'
import { conflict, Refusal } from '../refusal'
import { saveSettings } from '../settings'

/**
 * Names the levels of the tree. They are everybody's, so only who sees the whole tree may.
 * @throws Refusal 403, 422 `levels-order`, 409 `levels-used` (units stand deeper), `levels-signed` (another
 *   level signed already).
 */
export async function saveLevels(
  access: Access,
  { levels, districtLevel, facilityLevel }: LevelsSave,
): Promise<void> {
  mustHoldAll(access)
  if (districtLevel > facilityLevel || facilityLevel > levels.length)
    throw new Refusal(
      422,
      'levels-order',
      'The level that reports is not above the one that signs, and both are among the levels.',
    )
  const sql = await database()
  await sql.transaction(async tx => {
    await lockTree(tx)
    const [used] = await tx.query<{ deepest: number | null }>('SELECT max(level) AS deepest FROM unit_span')
    if ((used?.deepest ?? 0) > levels.length)
      throw conflict('levels-used', 'There are units on a deeper level.')
    const [other] = await tx.query(
      'SELECT 1 FROM signature s JOIN unit_latest u ON u.code = s.unit WHERE u.level <> $1 LIMIT 1',
      [districtLevel],
    )
    if (other) throw conflict('levels-signed', 'District reports are signed on another level already.')
    await saveSettings(tx, { levelNames: levels, districtLevel, facilityLevel })
  })
}
