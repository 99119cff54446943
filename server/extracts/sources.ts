import { namesOf } from '#core/extract/condition'
import { ABOUT, levelFields } from '#core/extract/about'
import { aboutFields, answerFields, type ExtractField, type FormEdition } from '#core/extract/fields'
import type { CaseRegister } from '#core/cases/register'
import type { ExtractSource, FieldList, FieldsQuery } from '#core/contract/extracts'
import { may } from '#core/contract/permission'
import { formOfEdition } from '#core/form/form-of-edition'
import type { Edition, Words } from '#core/report/edition'
import { seesDataset, type Access } from '../access/access'
import { newestRegisters } from '../cases/registers'
import { registersSeen } from '../cases/shared'
import { database, type Sql } from '../database'
import { notFound } from '../refusal'
import { settings } from '../settings'

/** What an extract can take of a dataset or a register, and what its rows are read with. */
export interface SourceFields {
  kind: 'dataset' | 'register'
  fields: ExtractField[]
  /** The newest edition of each form first. */
  forms: FormEdition[]
  /** The codes of questions whose answers are personal. */
  personal: ReadonlySet<string>
}

const isOfCases = (rows: FieldsQuery['rows']) => rows === 'case' || rows === 'entry'

/** The editions of a dataset as forms, the newest first. An edition whose form cannot be read is left out. */
async function datasetForms(sql: Pick<Sql, 'query'>, dataset: string): Promise<FormEdition[]> {
  const editions = await sql.query<{ number: number; definition: Edition }>(
    'SELECT number, definition FROM edition WHERE dataset = $1 ORDER BY number DESC',
    [dataset],
  )
  return editions.flatMap(({ number, definition }) => {
    const form = formOfEdition(definition)
    return form.ok ? [{ edition: number, form: form.value }] : []
  })
}

const registerEditions = (sql: Pick<Sql, 'query'>, register: string) =>
  sql.query<{ number: number; definition: CaseRegister }>(
    'SELECT number, definition FROM register_edition WHERE register = $1 ORDER BY number DESC',
    [register],
  )

/** What is personal in any edition stays personal: an answer does not become open by a later definition. */
const personalOf = (editions: readonly { definition: CaseRegister }[]): Set<string> =>
  new Set(editions.flatMap(({ definition }) => definition.keeping?.personal ?? []))

/**
 * All that an extract can have as a column.
 *
 * @throws Refusal 404 `no-source` where there is no such dataset or register, or it is not shared with the person
 */
export async function sourceFields(
  access: Pick<Access, 'sharing'>,
  { of, rows, form }: FieldsQuery,
): Promise<SourceFields> {
  const sql = await database()
  const { levelNames, facilityLevel } = await settings()
  const about = [...ABOUT[rows], ...levelFields(levelNames.slice(0, facilityLevel - 1))]
  if (!isOfCases(rows)) {
    const forms = seesDataset(access, of) ? await datasetForms(sql, of) : []
    if (!forms.length) throw notFound('source')
    const answers = answerFields(forms)
    return {
      ...{ kind: 'dataset', forms, personal: new Set() },
      fields: [...aboutFields(about, answers), ...answers],
    }
  }
  const editions = registersSeen(access, [{ register: of }]).length ? await registerEditions(sql, of) : []
  if (!editions.length) throw notFound('source')
  const forms = editions.flatMap(({ number, definition }) =>
    definition.forms
      .filter(one => form === undefined || one.form.code === form)
      .map(one => ({ edition: number, form: one.form })),
  )
  const personal = personalOf(editions)
  // What is asked in a repeat is no answer of the case, but of each entry.
  const answers = answerFields(forms, personal).filter(({ repeat }) => rows === 'entry' || !repeat)
  return {
    ...{ kind: 'register', forms, personal },
    fields: [...aboutFields(about, answers), ...answers],
  }
}

/** The same for the builder: without what the person may not take out. */
export async function fieldList(access: Access, asked: FieldsQuery): Promise<FieldList> {
  const { fields, forms, personal: closed } = await sourceFields(access, asked)
  const personal = may(access, 'extractPersonal')
  return {
    personal,
    names: [...namesOf(forms).names.values()].filter(({ code }) => personal || !closed.has(code)),
    fields: fields
      .filter(({ isPersonal }) => personal || !isPersonal)
      .map(({ key, short, path, label, type, sections, repeat, inTable, isPersonal }) => ({
        ...{ key, short, path, label, type, isPersonal },
        ...{ sections: [...sections], repeat: repeat ?? null },
        inTable: inTable
          ? { table: inTable.table, column: inTable.column, label: inTable.columnLabel }
          : null,
      })),
  }
}

/** The datasets and registers that a person can take extracts of. */
export async function listSources(access: Access): Promise<ExtractSource[]> {
  const sql = await database()
  const datasets = await sql.query<{ of: string; name: Words }>(
    `SELECT DISTINCT ON (dataset) dataset AS of, definition -> 'name' AS name FROM edition ORDER BY dataset, number DESC`,
  )
  const registers = [...(await newestRegisters(sql)).values()].map(register => ({
    register: register.code,
    definition: register,
  }))
  return [
    ...datasets
      .filter(({ of }) => seesDataset(access, of))
      .map(({ of, name }) => ({ of, kind: 'dataset' as const, name, forms: [] })),
    ...registersSeen(access, registers).map(({ register, definition }) => ({
      of: register,
      kind: 'register' as const,
      name: definition.name,
      forms: definition.forms.map(({ form }) => ({ code: form.code, name: form.name })),
    })),
  ]
}
