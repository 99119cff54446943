import type { CaseRegister, FormRole, RegisterForm } from '#core/cases/register'
import type { RegisterFile } from '#core/contract/registers'
import {
  insideOf,
  mayStandIn,
  movePart,
  nest,
  placesOf,
  unnest,
  type PartPlace,
} from '#core/define/form-parts'
import { recodeQuestion } from '#core/define/recode-question'
import { codeFromLabel } from '#core/form/code'
import type { AnswerQuestion, FormPart } from '#core/form/question'
import { useDraftAutosave } from './useDraftAutosave'
import type { Load } from '../common/useLoad'

/** A draft is altered in place; core's types say that what is published never is. */
type Writable<T> = T extends readonly (infer One)[]
  ? Writable<One>[]
  : T extends object
    ? { -readonly [Key in keyof T]: Writable<T[Key]> }
    : T
export type RegisterInWork = Writable<CaseRegister>
export type FormInWork = Writable<RegisterForm>
/** The kinds of parts that a form can have, in the order in which they are offered. */
export const PART_KINDS = [
  'text',
  'wholeNumber',
  'decimal',
  'date',
  'partialDate',
  'time',
  'yesNo',
  'oneOf',
  'severalOf',
  'unit',
  'person',
  'identifier',
  'computed',
  'position',
  'picture',
  'sound',
  'note',
  'section',
  'table',
  'repeat',
] as const satisfies readonly FormPart['kind'][]

/** What a new question of each kind begins with. */
export function emptyPart(kind: FormPart['kind'], code: string, label: Record<string, string>): FormPart {
  const base = { code, label }
  switch (kind) {
    case 'section':
      return { kind, ...base, parts: [] }
    case 'table':
      return { kind, ...base, rows: [], columns: [] }
    case 'repeat':
      return { kind, ...base, parts: [] }
    case 'oneOf':
    case 'severalOf':
      return { kind, ...base, choices: [] }
    case 'unit':
      return { kind, ...base, level: 2 }
    case 'computed':
      return { kind, ...base, expression: '' }
    default:
      return { kind, ...base } as FormPart
  }
}

/** The draft of one case register while somebody works on it, and the acts on its forms. */
export function useRegisterDraft(register: () => string, load: Load<RegisterFile>) {
  const { locale } = useI18n()
  const autosave = useDraftAutosave<RegisterFile, { draft: RegisterInWork }>({
    load,
    fetch: () => callApi('GET /api/registers/:register', { params: { register: register() } }),
    contents: ({ draft }) => ({ draft: draft as RegisterInWork }),
    save: (version, { draft }) =>
      callApi('PUT /api/registers/:register', { params: { register: register() }, body: { version, draft } }),
  })
  const draft = computed(() => autosave.work.value?.draft ?? null)
  const formOf = (code: string | null) => draft.value?.forms.find(one => one.form.code === code) ?? null
  const codesIn = (form: FormInWork) => placesOf(form.form.parts as FormPart[]).map(({ part }) => part.code)

  function addForm(name: string, role: FormRole): string {
    const code = codeFromLabel(
      name,
      draft.value!.forms.map(({ form }) => form.code),
    )
    draft.value!.forms.push({
      role,
      many: role !== 'registration',
      eventDate: '',
      form: { code, name: { [locale.value]: name }, parts: [] },
    })
    return code
  }

  /** Adds a part behind the chosen one, or inside it when it holds parts. @returns its code. */
  function addPart(form: FormInWork, kind: FormPart['kind'], label: string, beside: string | null): string {
    const part = emptyPart(kind, codeFromLabel(label, codesIn(form)), { [locale.value]: label })
    const places = placesOf(form.form.parts as FormPart[])
    const at = places.find(one => one.part.code === beside)
    const inside = at && insideOf(at.part)
    if (inside && mayStandIn(part, at.part as PartPlace['around'])) inside.push(part)
    else if (at && mayStandIn(part, at.around)) at.siblings.splice(at.at + 1, 0, part)
    else (form.form.parts as FormPart[]).push(part)
    return part.code
  }

  function remove(form: FormInWork, code: string): () => void {
    const { siblings, at, part } = placesOf(form.form.parts as FormPart[]).find(
      one => one.part.code === code,
    )!
    siblings.splice(at, 1)
    return () => siblings.splice(at, 0, part)
  }

  const partsOf = (form: FormInWork) => form.form.parts as FormPart[]
  const move = (form: FormInWork, code: string, way: 'up' | 'down' | 'in' | 'out') => {
    if (way === 'in') return nest(partsOf(form), code)
    return way === 'out' ? unnest(partsOf(form), code) : movePart(partsOf(form), code, way === 'up' ? -1 : 1)
  }

  /** Puts another kind in its place; what both kinds have stays. */
  function changeKind(form: FormInWork, code: string, kind: FormPart['kind']) {
    const place = placesOf(partsOf(form)).find(one => one.part.code === code)!
    const old = place.part
    const next: Record<string, unknown> = { ...emptyPart(kind, old.code, old.label) }
    const shared = [
      'definition',
      'shownWhen',
      'required',
      'acceptedIf',
      'default',
      'pattern',
      'choices',
      'cascade',
      'list',
      'unitOfMeasure',
      'least',
      'most',
    ]
    const takes = (key: string) =>
      key in next ||
      ['definition', 'shownWhen'].includes(key) ||
      (kind !== 'note' &&
        kind !== 'section' &&
        ['required', 'acceptedIf', 'default'].includes(key) &&
        kind !== 'computed' &&
        kind !== 'table' &&
        kind !== 'repeat')
    for (const key of shared)
      if (key in old && takes(key)) next[key] = (old as unknown as Record<string, unknown>)[key]
    place.siblings.splice(place.at, 1, next as unknown as FormPart)
  }

  const recode = (form: FormInWork, from: string, to: string) =>
    recodeQuestion(draft.value as CaseRegister, form.form.code, from, to)

  /** Every question with an answer, once, with where it is asked: for the line, the identity and dates. */
  const questions = computed(() => {
    const found = new Map<string, { part: AnswerQuestion; form: string }>()
    for (const { form } of draft.value?.forms ?? []) {
      for (const { part, around } of placesOf(form.parts as FormPart[])) {
        const single =
          around?.kind !== 'repeat' &&
          around?.kind !== 'table' &&
          !['section', 'note', 'table', 'repeat'].includes(part.kind)
        if (single && !found.has(part.code))
          found.set(part.code, { part: part as AnswerQuestion, form: form.code })
      }
    }
    return found
  })

  return { ...autosave, draft, questions, formOf, addForm, addPart, remove, move, changeKind, recode }
}

export type RegisterWork = ReturnType<typeof useRegisterDraft>
