import type { DataDictionary, DictionaryQuery } from '#core/contract/extracts'
import { describeField, describeIndicators } from '#core/extract/dictionary'
import type { Edition } from '#core/report/edition'
import type { Access } from '../access/access'
import { database } from '../database'
import { notFound } from '../refusal'
import { listSources, sourceFields } from './sources'

/**
 * What each column of a dataset or a register means. It names no person: personal questions are in it.
 * @throws Refusal 404 where there is no such dataset or register, or it is not shared with the person
 */
export async function dataDictionary(
  access: Access,
  { of, language }: DictionaryQuery,
): Promise<DataDictionary> {
  const source = (await listSources(access)).find(one => one.of === of)
  if (!source) throw notFound('source')
  const rows = source.kind === 'dataset' ? 'report' : 'entry'
  const { fields, forms } = await sourceFields(access, { of, rows })
  const answers = fields.filter(({ question }) => question)
  const sql = await database()
  const [newest] = await sql.query<{ definition: Edition }>(
    'SELECT definition FROM edition WHERE dataset = $1 ORDER BY number DESC LIMIT 1',
    [of],
  )
  return {
    ...{ of, kind: source.kind, name: source.name },
    edition: forms[0]?.edition ?? 0,
    indicators: newest ? describeIndicators(newest.definition, answers, language) : [],
    lines: answers.map(field => describeField(field, language)),
  }
}
