import type { Static } from '@sinclair/typebox'
import { v7 as uuid } from 'uuid'
import type { CardLine, CardMade, CardNew } from '#core/contract/devices'
import { branchPath, type Access } from '../access/access'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { notFound } from '../refusal'
import { hashCode, newCode } from '../people/one-time-code'
import { mustHoldUnit } from '../units/must-hold-unit'

/**
 * Creates a card. Its code is shown once and contains no password.
 *
 * @param tx inside a transaction
 * @throws Refusal 404 `no-unit`, 403
 */
export async function makeCard(
  access: Access,
  { name, unit, settings: set, uses, days }: Static<typeof CardNew>,
  tx?: Pick<Sql, 'query'>,
): Promise<CardMade> {
  const sql = tx ?? (await database())
  await mustHoldUnit(sql, access, unit)
  const card: CardMade = {
    id: uuid(),
    code: newCode(),
    until: new Date(now() + days * 86_400_000).toISOString(),
    uses,
  }
  await sql.query(
    'INSERT INTO pairing_card (id, code_hash, name, unit, settings, uses_left, until, made_at, made_by) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)',
    [card.id, hashCode(card.code), name.trim(), unit, set, uses, card.until, nowText(), access.id],
  )
  return card
}

/** The cards of the branch, newest first. */
export async function listCards(access: Access): Promise<CardLine[]> {
  const sql = await database()
  const rows = await sql.query<Omit<CardLine, 'unit' | 'open'> & { code: string; unitName: string }>(
    `SELECT c.id, c.name, c.unit AS code, u.name AS "unitName", c.uses_left AS "usesLeft", c.until, (SELECT count(*) FROM device d WHERE d.card = c.id) AS devices
     FROM pairing_card c JOIN unit_latest u ON u.code = c.unit WHERE u.path @> $1::text[] ORDER BY c.made_at DESC LIMIT 200`,
    [branchPath(access.branch)],
  )
  return rows.map(({ code, unitName, ...row }) => ({
    ...row,
    unit: { code, name: unitName },
    open: row.usesLeft > 0 && Date.parse(row.until) > now(),
  }))
}

/** Ends a card: nobody pairs by it any more. @throws Refusal 404, 403. */
export async function endCard(access: Access, id: string): Promise<void> {
  const sql = await database()
  const [card] = await sql.query<{ unit: string }>('SELECT unit FROM pairing_card WHERE id = $1', [id])
  if (!card) throw notFound('card')
  await mustHoldUnit(sql, access, card.unit)
  await sql.query('UPDATE pairing_card SET uses_left = 0 WHERE id = $1', [id])
}
