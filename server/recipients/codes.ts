import { fold } from '#core/form/code'
import {
  LONGEST_CODE,
  type CodeLine,
  type CodePage,
  type CodeQuery,
  type CodesGiven,
  type CodesPasted,
  type CodesTaken,
} from '#core/contract/sending'
import { CAN_BE_LEFT_OUT, codeLacks, type CodeBook, type NeededCode } from '#core/sending/codes'
import { readPastedCodes } from '#core/sending/pasted-codes'
import type { DocumentFormat } from '#core/exchange/value-document'
import { mustHoldAll, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { notFound, refusedBy } from '../refusal'
import { codeBook, neededFor, ofDataset } from './code-book'
import { holdRecipient } from './recipients'

/** How many lines a page has. */
const PAGE = 100

/** A code with what a recipient has for it. */
function linesOf(needed: readonly NeededCode[], codes: CodeBook, format: DocumentFormat): CodeLine[] {
  const lacks = codeLacks(needed, codes, format)
  return needed.map(({ kind, ours, name }) => {
    const theirs = codes[kind].get(ours)
    return {
      ...{ kind, ours, name, theirs: theirs ?? null, leftOut: theirs === null },
      lack: lacks.get(`${kind} ${ours}`) ?? null,
    }
  })
}

/**
 * A page of what needs a code: the definition of a dataset first, then the units by name.
 * @throws Refusal 403, 404
 */
export async function listCodes(
  access: Access,
  recipient: string,
  { dataset, show = 'all', find = '', after }: CodeQuery,
): Promise<CodePage> {
  mustHoldAll(access)
  const sql = await database()
  const [row] = await sql.query<{ format: DocumentFormat }>(
    'SELECT format FROM recipient WHERE id = $1 AND ended_at IS NULL',
    [recipient],
  )
  if (!row) throw notFound('recipient')
  const all = linesOf(await neededFor(sql, dataset), await codeBook(sql, recipient, dataset), row.format)
  const lacking = all.filter(({ lack }) => lack !== null)
  const sought = fold(find.trim())
  const found = (show === 'lacking' ? lacking : all).filter(({ ours, theirs, name }) =>
    [ours, theirs ?? '', ...Object.values(name)].some(text => fold(text).includes(sought)),
  )
  const begin = after ? found.findIndex(({ kind, ours }) => `${kind} ${ours}` === after) + 1 : 0
  return {
    lines: found.slice(begin, begin + PAGE),
    more: found.length > begin + PAGE,
    counts: { all: all.length, lacking: lacking.length },
  }
}

type Given = CodesGiven['codes'][number]

/** Writes codes, alone with the recipient; what says nothing new is left. @returns how many were written */
async function writeCodes(
  tx: Sql,
  access: Access,
  recipient: string,
  dataset: string,
  codes: readonly Given[],
): Promise<number> {
  const now = await codeBook(tx, recipient, dataset)
  const news = codes.filter(({ kind, ours, theirs }) => now[kind].get(ours) !== theirs)
  const stateOf = ({ theirs }: Given) =>
    theirs === undefined ? 'none' : theirs === null ? 'leftOut' : 'code'
  await tx.query(
    `INSERT INTO recipient_code (recipient, kind, of, ours, theirs, state, at, person)
     SELECT $1, c.kind, c.of, c.ours, c.theirs, c.state, $2, $3
     FROM unnest($4::text[], $5::text[], $6::text[], $7::text[], $8::text[]) AS c (kind, of, ours, theirs, state)`,
    [
      ...[recipient, nowText(), access.id],
      news.map(({ kind }) => kind),
      news.map(({ kind }) => ofDataset(kind, dataset)),
      news.map(({ ours }) => ours),
      news.map(({ theirs }) => theirs ?? null),
      news.map(stateOf),
    ],
  )
  return news.length
}

/** Writes codes in a transaction of their own. @param choose which, of what needs one */
async function change(
  access: Access,
  recipient: string,
  dataset: string,
  choose: (needed: readonly NeededCode[], now: CodeBook) => readonly Given[],
): Promise<number> {
  mustHoldAll(access)
  const sql = await database()
  return sql.transaction(async tx => {
    await holdRecipient(tx, recipient)
    const needed = await neededFor(tx, dataset)
    return writeCodes(tx, access, recipient, dataset, choose(needed, await codeBook(tx, recipient, dataset)))
  })
}

/** What cannot be said of a code, with its place in the request. */
function mustFit(codes: readonly Given[], needed: readonly NeededCode[]): void {
  const known = new Set(needed.map(({ kind, ours }) => `${kind} ${ours}`))
  const problems = codes.flatMap(({ kind, ours, theirs }, at) => {
    if (!known.has(`${kind} ${ours}`))
      return [{ code: 'code-unknown', message: `There is no ${kind} ${ours}.`, at: `body/codes/${at}/ours` }]
    return theirs === null && !CAN_BE_LEFT_OUT.has(kind)
      ? [{ code: 'code-left-out', message: 'This cannot be left out.', at: `body/codes/${at}/theirs` }]
      : []
  })
  if (problems.length) throw refusedBy(422, problems)
}

/** Says codes of a recipient. @throws Refusal 403, 404; 422 `code-unknown`, `code-left-out` */
export async function saveCodes(
  access: Access,
  recipient: string,
  { dataset, codes }: CodesGiven,
): Promise<CodesTaken> {
  const tidy = codes.map(({ theirs, ...one }) => ({ ...one, theirs: theirs?.trim() ?? theirs }))
  const taken = await change(access, recipient, dataset, needed => {
    mustFit(tidy, needed)
    return tidy
  })
  return { taken, passedOver: [] }
}

/** How many lines that say nothing are named. */
const MOST_NAMED = 100

/** Takes codes from pasted lines, and says which lines it passed over. @throws Refusal 403, 404 */
export async function pasteCodes(
  access: Access,
  recipient: string,
  { dataset, text }: CodesPasted,
): Promise<CodesTaken> {
  let passedOver: CodesTaken['passedOver'] = []
  const taken = await change(access, recipient, dataset, needed => {
    const read = readPastedCodes(text, needed, LONGEST_CODE)
    passedOver = read.passedOver.slice(0, MOST_NAMED)
    return read.codes
  })
  return { taken, passedOver }
}

/** Gives a recipient our own codes wherever it has none; bands without their axis. @throws Refusal 403, 404 */
export async function useOwnCodes(access: Access, recipient: string, dataset: string): Promise<CodesTaken> {
  const taken = await change(access, recipient, dataset, (needed, now) =>
    needed
      .filter(({ kind, ours }) => now[kind].get(ours) === undefined)
      .map(({ kind, ours }) => ({ kind, ours, theirs: kind === 'band' ? ours.split('.')[1]! : ours })),
  )
  return { taken, passedOver: [] }
}
