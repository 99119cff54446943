import { listsUsed, type ChoiceList } from '#core/define/choice-list'
import type { ChoiceListFile } from '#core/contract/registers'
import type { CaseRegister } from '#core/cases/register'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { mustBeVersion } from '../definitions/draft-version'
import { database } from '../database'
import { lockDefined, mustOwnOrClaim } from '../definitions/owner'
import { Refusal } from '../refusal'

type ListRow = Omit<ChoiceListFile, 'usedBy'>

/** All shared lists of choices, each with the registers whose newest edition or draft takes from it. */
export async function choiceLists(): Promise<ChoiceListFile[]> {
  const sql = await database()
  const lists = await sql.query<ListRow>(
    'SELECT l.definition AS list, l.version, p.display_name AS by, l.updated_at AS at FROM choice_list l JOIN person p ON p.id = l.updated_by ORDER BY l.code',
  )
  const registers = await sql.query<{ definition: CaseRegister }>(
    `SELECT DISTINCT ON (register) definition FROM (SELECT register, 1000000 AS number, definition FROM register_draft UNION ALL SELECT register, number, definition FROM register_edition) AS all_of
     ORDER BY register, number DESC`,
  )
  const used = registers.map(({ definition }) => ({ name: definition.name, lists: listsUsed(definition) }))
  return lists.map(list => ({
    ...list,
    usedBy: used.filter(({ lists: codes }) => codes.includes(list.list.code)).map(({ name }) => name),
  }))
}

/**
 * Keeps a list. Forms that are published keep the choices that they have. @throws Refusal 409
 * `draft-changed`, 422 `choice-double`, `choice-under`.
 */
export async function saveChoiceList(
  access: Access,
  code: string,
  { version, list }: { version: number; list: ChoiceList },
): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    // The list above as well: its choices must still be there when this one is saved.
    await lockDefined(
      tx,
      [code, ...(list.parent ? [list.parent] : [])].map(one => ({ kind: 'list', code: one })),
    )
    await mustOwnOrClaim(tx, access, { kind: 'list', code })
    const [stored] = await tx.query<{ version: number; by: string; at: string }>(
      'SELECT l.version, p.display_name AS by, l.updated_at AS at FROM choice_list l JOIN person p ON p.id = l.updated_by WHERE l.code = $1',
      [code],
    )
    mustBeVersion(stored, version)
    const codes = list.choices.map(choice => choice.code)
    const double = codes.find((one, at) => codes.indexOf(one) !== at)
    if (double)
      throw new Refusal(422, 'choice-double', `There are two choices ${double}.`, [
        { code: 'choice-double', message: '', values: { choice: double } },
      ])
    if (list.parent) {
      const [parent] = await tx.query<{ definition: ChoiceList }>(
        'SELECT definition FROM choice_list WHERE code = $1',
        [list.parent],
      )
      const known = new Set(parent?.definition.choices.map(choice => choice.code))
      const lost = list.choices.find(({ under }) => under !== undefined && !known.has(under))
      if (lost)
        throw new Refusal(422, 'choice-under', `${lost.under} is no choice of the list above.`, [
          { code: 'choice-under', message: '', values: { choice: lost.code, under: lost.under! } },
        ])
    }
    await tx.query(
      `INSERT INTO choice_list (code, definition, version, updated_at, updated_by) VALUES ($1, $2, 1, $3, $4)
       ON CONFLICT (code) DO UPDATE SET definition = EXCLUDED.definition, version = choice_list.version + 1, updated_at = EXCLUDED.updated_at, updated_by = EXCLUDED.updated_by`,
      [code, { ...list, code }, nowText(), access.id],
    )
  })
}
