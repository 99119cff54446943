import type { CaseFileView, DeskRegister } from '#core/contract/desk'
import { mustHold, type Access } from '../access/access'
import { database } from '../database'
import { notFound, outsideBranch } from '../refusal'
import { deskRegisters } from './list'

/** One case with its entries as they were filled. @throws Refusal 404, 403. */
export async function caseFile(access: Access, id: string): Promise<CaseFileView> {
  const sql = await database()
  const [record] = await sql.query<{
    register: string
    code: string
    name: string
    path: string[]
    parent: string | null
  }>(
    'SELECT c.register, c.parent, u.code, u.name, u.path FROM case_record c JOIN unit_latest u ON u.code = c.unit WHERE c.id = $1',
    [id],
  )
  if (!record) throw notFound('case')
  mustHold(access, record.path)
  const entries = await sql.query<CaseFileView['entries'][number] & { person: string }>(
    `SELECT e.id, e.form, e.edition, e.answers, e.happened_on AS "happenedOn", e.received_at AS "receivedAt", e.person, p.display_name AS by, d.name AS device, e.corrects
     FROM case_entry e JOIN person p ON p.id = e.person LEFT JOIN device d ON d.id = e.device WHERE e.case_id = $1 ORDER BY e.happened_on, e.seq`,
    [id],
  )
  if (access.ownOnly && !entries.some(({ person }) => person === access.id)) throw outsideBranch()
  const definition = (await deskRegisters()).find(({ register }) => register === record.register)!.definition
  const editions = await sql.query<DeskRegister>(
    'SELECT register, number AS edition, definition FROM register_edition WHERE register = $1 AND number = ANY($2::int[]) ORDER BY number',
    [record.register, [...new Set(entries.map(({ edition }) => edition))]],
  )
  return {
    id,
    register: record.register,
    unit: { code: record.code, name: record.name },
    parent: record.parent,
    definition,
    editions,
    entries: entries.map(
      ({ id: entry, form, edition, answers, happenedOn, receivedAt, by, device, corrects }) => ({
        id: entry,
        form,
        edition,
        answers,
        happenedOn,
        receivedAt,
        by,
        device,
        corrects,
      }),
    ),
  }
}
