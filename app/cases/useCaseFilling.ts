import { v7 as uuid } from 'uuid'
import { foldCases } from '#core/cases/fold'
import type { CaseDoubt } from '#core/cases/case-doubts'
import type { CaseRegister } from '#core/cases/register'
import { runnableRegister, type RunnableRegister } from '#core/cases/runnable-register'
import type { DeskRegister } from '#core/contract/desk-register'
import type { Answers } from '#core/form/answer'
import { compileForm, type CompiledForm } from '#core/form/compile-form'
import { answersOf } from '#core/form/filling'
import { mayBe } from '#core/matching/duplicates'
import { subjectOf } from '#core/matching/subject'
import { must } from '#core/result'
import { clockNow, deviceNow } from '../common/useClock'
import { entryOf, type DeskCase } from './useCases'
import { askedKey, fillingOptions, type Asked } from './askedEntry'
import { caseBefore, doubtsOfEntry, saidOf, type CaseBefore } from './useEntryDoubts'
import { deskRegisters, deskUnits } from '../device/useDesk'
import { useDeskStore } from '../device/useDeskStore'
import { attachmentsIn } from '../device/useFilesHere'
import { isFull } from '../device/useStorageShare'
import type { Units } from '../units/useUnits'

/** What a draft keeps: the answers, and the edition in which they were given. */
interface FormDraft {
  answers: Answers
  edition: number
  asked: Asked
  case: string
  unit?: string | null
  /** The identifier that the entry will have: doubts are named by it. */
  id?: string
  /** What was said of doubts, by their keys. */
  explanations?: Record<string, string>
}

export interface Begun {
  register: CaseRegister
  edition: number
  newest: number
  compiled: CompiledForm
  work: FillingWork
  name: Record<string, string>
  /** The rules of the edition; null where they cannot be judged here. */
  rules: RunnableRegister | null
}

/** The answers that people of one household share, taken from one of them. */
function sharedWith(register: CaseRegister, other: DeskCase): Answers {
  return Object.fromEntries(
    (register.follow?.household ?? []).flatMap(code => {
      const content = other.file.values.get(code)?.content
      return content ? [[code, content]] : []
    }),
  )
}

/** One form of a case being filled: saved as a draft at each answer, in the edition in which it was begun. */
export function useCaseFilling(asked: Asked, units: Units, cases: () => readonly DeskCase[]) {
  const store = useDeskStore()
  const session = useSession()
  const desk = useDesk()
  const draftPlace = `form|${askedKey(asked)}`
  let caseId = asked.case ?? uuid()
  let entryId = uuid()
  /** The facility of the case. People who work for several facilities choose it for a new case. */
  const unit = ref<string | null>(null)
  const choosesUnit = ref(false)
  /** What somebody says of the doubts that the entry raises, by their keys. */
  const explanations = reactive<Record<string, string>>({})

  const { today } = useWords()
  const options = () => fillingOptions(units, today())

  async function begin(
    { edition, definition }: DeskRegister,
    newest: number,
    answers: Answers,
  ): Promise<Begun> {
    const own = definition.forms.find(({ form, role }) =>
      asked.form ? form.code === asked.form : role === 'registration',
    )
    if (!own) throw new ApiProblem(404, 'not-found', '')
    const compiled = must(compileForm(own.form))
    const parent = (await deskRegisters()).find(({ register }) => register === definition.parent)
    const runnable = runnableRegister(definition, () => parent?.definition)
    return {
      register: definition,
      edition,
      newest,
      compiled,
      work: useFilling(() => compiled, answers, options),
      name: own.form.name,
      rules: runnable.ok ? runnable.value : null,
    }
  }
  async function newestOf(): Promise<DeskRegister> {
    const newest = (await deskRegisters()).find(one => one.register === asked.register)
    if (!newest) throw new ApiProblem(404, 'not-found', '')
    return newest
  }

  const load = useLoad<Begun>(async () => {
    const newest = await newestOf()
    const draft = (await store.drafts.get('place', draftPlace))?.content as FormDraft | undefined
    const corrected = asked.corrects ? await store.entries.get('id', asked.corrects) : undefined
    // What was begun goes on in the edition in which it was begun, and is corrected in it, though a newer one
    // has come.
    const edition = draft?.edition ?? corrected?.edition ?? newest.edition
    const cached =
      edition === newest.edition
        ? undefined
        : ((await store.serverCache.get('key', `register|${asked.register}|${edition}`))?.answer as
            DeskRegister | undefined)
    if (draft) caseId = draft.case
    if (draft?.id) entryId = draft.id
    Object.assign(explanations, draft?.explanations)
    const entry = corrected ?? (asked.case ? (await store.entries.where('case', asked.case))[0] : undefined)
    const own = session.view!.branch!
    choosesUnit.value = !asked.case && !asked.corrects && own.level < (await deskUnits()).facilityLevel
    unit.value = draft?.unit ?? entry?.unit ?? (choosesUnit.value ? null : own.unit.code)
    return begin(cached ?? newest, newest.edition, draft?.answers ?? corrected?.answers ?? {})
  })

  /** Carries the answers over that people of one household share; what was answered already stays. */
  function carryOver(other: DeskCase): void {
    const { register, work } = load.data.value!
    const own = Object.entries(answersOf(work.filling.value)).filter(
      ([, content]) => content.kind !== 'blank',
    )
    work.open({ ...sharedWith(register, other), ...Object.fromEntries(own) })
  }

  /** Moves the answers to the newest edition. @returns the answers that have no place there. */
  const left = ref<string[]>([])
  async function moveOn(): Promise<void> {
    const newest = await newestOf()
    const answers = answersOf(load.data.value!.work.filling.value)
    const next = await begin(newest, newest.edition, {})
    const places = new Set(next.compiled.outline.placed.map(({ question }) => question.code))
    const fits = (key: string) =>
      places.has((key.split('/').at(-1) ?? key).split('.')[0]!) ||
      next.compiled.outline.frames.some(({ part }) => part.code === key)
    left.value = Object.keys(answers).filter(key => !fits(key))
    next.work.open(Object.fromEntries(Object.entries(answers).filter(([key]) => fits(key))))
    load.data.value = next
    saveDraft()
  }

  /** The draft could not be saved: this device is full. */
  const full = ref(false)
  let savingDraft: Promise<void> = Promise.resolve()
  async function write(): Promise<void> {
    const now = load.data.value!
    const content: FormDraft = {
      answers: answersOf(now.work.filling.value),
      edition: now.edition,
      asked,
      case: caseId,
      unit: unit.value,
      id: entryId,
      explanations: { ...explanations },
    }
    try {
      await store.drafts.put({ place: draftPlace, at: clockNow(), content }, 'place')
      full.value = false
    } catch (error) {
      if (!isFull(error)) throw error
      full.value = true
    }
  }
  /** The entry is saved: from then on there is no draft to write. */
  let isSaved = false
  /** Saves every answer on this device at once, in the order of answering. */
  const saveDraft = () => {
    if (!isSaved) savingDraft = savingDraft.then(write)
  }
  watch([() => load.data.value?.work.filling.value, unit], ([filling], [before]) => {
    if (filling && before) saveDraft()
  })
  // Also what is said of doubts; but not while a draft is being opened.
  watch(explanations, () => {
    if (load.data.value) saveDraft()
  })

  /** The entry as it stands. */
  const entryNow = (begun: Begun) => ({
    id: entryId,
    case: caseId,
    form: begun.compiled.form.code,
    answers: answersOf(begun.work.filling.value),
    madeAt: new Date(deviceNow()).toISOString(),
    ...(asked.corrects && { corrects: asked.corrects }),
  })
  const before = computed<CaseBefore | null>(() => {
    const rules = load.data.value?.rules
    if (!rules?.rules.length) return null
    return caseBefore(rules, { id: caseId, parent: asked.parent }, cases(), today())
  })
  /** What the rules of the register doubt about the case, with this entry. */
  const doubts = computed<CaseDoubt[]>(() => {
    const begun = load.data.value
    if (!begun?.rules || !before.value) return []
    return doubtsOfEntry(begun.rules, entryNow(begun), before.value, today())
  })

  /** Known cases that may be the same person: shown before a new case is saved. */
  function likely(): DeskCase[] {
    const { register } = load.data.value!
    if (asked.case || asked.corrects) return []
    const entry = entryOf(register, entryNow(load.data.value!))
    const known = cases().filter(one => one.register === register.code)
    const pairs = mayBe(
      subjectOf(register, foldCases([entry])[0]!),
      known.map(({ file }) => subjectOf(register, file)),
    )
    return pairs.map(({ other }) => known.find(({ id }) => id === other)!)
  }

  /** Saves the entry and marks its pictures for sending. @returns the case. */
  async function save(): Promise<string> {
    const { register, edition } = load.data.value!
    const { madeAt: _, ...entry } = entryNow(load.data.value!)
    const said = saidOf(doubts.value, explanations)
    for (const { hash } of attachmentsIn(entry.answers as never))
      await store.files
        .where('hash')
        .equals(hash)
        .filter(({ state }) => state === 'draft')
        .modify({ state: 'waiting' })
    // No draft is written after the entry has taken its place.
    isSaved = true
    try {
      await savingDraft
      await desk.saveEntry(
        {
          ...entry,
          register: register.code,
          edition,
          unit: unit.value!,
          ...(asked.parent && { parent: asked.parent }),
          ...(said && { explanations: said }),
        },
        draftPlace,
      )
    } catch (error) {
      isSaved = false
      throw error
    }
    return caseId
  }
  return { load, left, full, unit, choosesUnit, doubts, explanations, moveOn, carryOver, likely, save }
}

/** The forms that somebody has begun on this device. */
export function useFormDrafts() {
  const store = useDeskStore()
  const load = useLoad(async () =>
    (await store.drafts.all())
      .filter(({ place }) => place.startsWith('form|'))
      .map(({ place, at, content }) => ({ place, at, ...(content as FormDraft) }))
      .sort((one, other) => other.at - one.at),
  )
  async function remove(place: string): Promise<void> {
    await store.drafts.remove('place', [place])
    await load.reload()
  }
  return { load, remove }
}
