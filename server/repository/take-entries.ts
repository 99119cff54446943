import { createInterface } from 'node:readline'
import { Readable } from 'node:stream'
import { questionnaireOf } from '#core/exchange/questionnaire-response'
import type { Sql } from '../database'
import type { FileAnswer, FileDelivery, RefusedLine } from './repository'

/** What the stand-in reads of a line. */
interface EntryLine {
  resourceType?: unknown
  id?: unknown
  questionnaire?: unknown
}

/** More lines than these in one file the stand-in does not take. */
const MOST_LINES = 100_000
/** So many are kept by one statement. */
const AT_ONCE = 1_000

/** Why a line is not taken; null where it is. */
function wrongWith(
  { resourceType, id, questionnaire }: EntryLine,
  registers: ReadonlySet<string>,
): string | null {
  if (resourceType !== 'QuestionnaireResponse' || typeof id !== 'string')
    return 'This is no QuestionnaireResponse.'
  const form = questionnaireOf(String(questionnaire))
  return form && registers.has(form.register) ? null : `The form ${String(questionnaire)} is not known here.`
}

function parsed(text: string): EntryLine {
  try {
    return JSON.parse(text) as EntryLine
  } catch {
    return {}
  }
}

/** The lines of a file, as far as the stand-in takes them. */
async function linesOf({ parts }: FileDelivery): Promise<string[]> {
  const lines: string[] = []
  for await (const line of createInterface({ input: Readable.from(parts()) }))
    if (lines.push(line) > MOST_LINES) break
  return lines
}

/**
 * Reads a file of entries as the stand-in does: it keeps the newest of each entry, by its id, and refuses the lines
 * that it does not know.
 *
 * @returns what keeps them, in a transaction: the file is read before it, because it may lie in the same database
 */
export async function readEntryFile(file: FileDelivery): Promise<(tx: Sql) => Promise<FileAnswer>> {
  const nothing = (problem: string) => () => Promise.resolve({ receipt: null, refused: [], problem })
  if (!file.mediaType.startsWith('application/fhir+ndjson'))
    return nothing('Only entries as FHIR, a QuestionnaireResponse a line, are taken here.')
  const lines = await linesOf(file)
  if (lines.length > MOST_LINES) return nothing(`More than ${MOST_LINES} lines are not taken at once.`)
  return async tx => {
    const codes = await tx.query<{ code: string }>('SELECT code FROM case_register')
    const registers = new Set(codes.map(({ code }) => code))
    const refused: RefusedLine[] = []
    const taken: EntryLine[] = []
    for (const [at, text] of lines.entries()) {
      const line = parsed(text)
      const message = wrongWith(line, registers)
      if (message === null) taken.push(line)
      else refused.push({ row: typeof line.id === 'string' ? line.id : String(at + 1), message })
    }
    for (let from = 0; from < taken.length; from += AT_ONCE)
      await tx.query(
        `INSERT INTO stand_in_entry (id, reference, resource)
         SELECT DISTINCT ON (r ->> 'id') r ->> 'id', $1, r FROM jsonb_array_elements($2::jsonb -> 'rows') AS r
         ON CONFLICT (id) DO UPDATE SET reference = EXCLUDED.reference, resource = EXCLUDED.resource`,
        [file.reference, { rows: taken.slice(from, from + AT_ONCE) }],
      )
    return { receipt: `R-${file.reference.slice(-8)}`, refused, problem: null }
  }
}
