import { foldCases, type Entry } from '#core/cases/fold'
import type { CaseLine, DeskRegister } from '#core/contract/desk'
import { fold } from '#core/form/code'
import { branchPath, unitAsked, type Access } from '../access/access'
import { database } from '../database'
import { standIn } from '../database/patterns'

/** The newest edition of every register that is published. */
export async function deskRegisters(): Promise<DeskRegister[]> {
  const sql = await database()
  return sql.query<DeskRegister>(
    'SELECT DISTINCT ON (register) register, number AS edition, definition FROM register_edition ORDER BY register, number DESC',
  )
}

/** Earlier editions in which entries of the branch were filled. */
export async function earlierRegisters(access: Access): Promise<DeskRegister[]> {
  const sql = await database()
  return sql.query<DeskRegister>(
    `SELECT g.register, g.number AS edition, g.definition FROM register_edition g
     WHERE g.number < (SELECT max(n.number) FROM register_edition n WHERE n.register = g.register)
       AND EXISTS (SELECT 1 FROM case_entry e JOIN case_record c ON c.id = e.case_id JOIN unit_latest u ON u.code = c.unit
         WHERE c.register = g.register AND e.edition = g.number AND u.path @> $1::text[])
     ORDER BY g.register, g.number`,
    [branchPath(access.branch)],
  )
}

/** How many a page has. */
const PAGE = 50

/**
 * Cases of the branch, those in which all parts of `find` stand where it is asked for; each with the latest
 * known of the line that its register defines; the latest first, a page at a time.
 */
export async function listCases(
  access: Access,
  asked: { register?: string; unit?: string; find?: string; after?: string },
  most = PAGE,
): Promise<{ lines: CaseLine[]; more: boolean }> {
  const sql = await database()
  const branch = asked.unit ? (await unitAsked(access, asked.unit)).code : access.branch
  const parts = fold(asked.find ?? '')
    .split(/\s+/)
    .filter(Boolean)
  const { condition, patterns } = standIn('c.search_text', parts, 6)
  const found = await sql.query<
    Omit<CaseLine, 'unit' | 'answers' | 'entries'> & { code: string; name: string }
  >(
    `SELECT c.id, c.register, u.code, u.name, c.last_on AS "lastOn" FROM case_record c JOIN unit_latest u ON u.code = c.unit
     WHERE u.path @> $1::text[] AND ($2::text IS NULL OR c.register = $2) AND ${condition}
       AND ($3::uuid IS NULL OR EXISTS (SELECT 1 FROM case_entry own WHERE own.case_id = c.id AND own.person = $3))
       AND ($4::uuid IS NULL OR (c.last_on, c.id) < (SELECT a.last_on, a.id FROM case_record a WHERE a.id = $4))
     ORDER BY c.last_on DESC, c.id DESC LIMIT $5`,
    [
      branchPath(branch),
      asked.register ?? null,
      access.ownOnly ? access.id : null,
      asked.after ?? null,
      most + 1,
      ...patterns,
    ],
  )
  if (!found.length) return { lines: [], more: false }
  const registers = new Map((await deskRegisters()).map(one => [one.register, one.definition]))
  const cases = found.slice(0, most)
  const entries = await sql.query<{
    id: string
    case: string
    form: string
    answers: Entry['answers']
    happenedOn: string
    receivedAt: string
    corrects: string | null
  }>(
    'SELECT id, case_id AS "case", form, answers, happened_on AS "happenedOn", received_at AS "receivedAt", corrects FROM case_entry WHERE case_id = ANY($1::uuid[]) ORDER BY seq',
    [cases.map(({ id }) => id)],
  )
  const files = new Map(
    foldCases(
      entries.map(({ happenedOn, receivedAt, corrects, ...entry }): Entry => ({
        ...entry,
        happenedAt: Date.parse(happenedOn),
        receivedAt: Date.parse(receivedAt),
        ...(corrects && { corrects }),
      })),
    ).map(file => [file.case, file]),
  )
  const lines = cases.map(({ id, register, code, name, lastOn }) => {
    const file = files.get(id)!
    const answers = registers.get(register)!.line.flatMap(question => {
      const known = file.values.get(question)
      return known ? [[question, known.content] as const] : []
    })
    return {
      id,
      register,
      unit: { code, name },
      lastOn,
      entries: file.entries.length,
      answers: Object.fromEntries(answers),
    }
  })
  return { lines, more: found.length > most }
}
