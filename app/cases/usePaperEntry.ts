import { v7 as uuid } from 'uuid'
import { findCaseDoubts } from '#core/cases/case-doubts'
import { entryOfKept, foldCase } from '#core/cases/fold'
import { runnableRegister } from '#core/cases/runnable-register'
import type { CaseFileView } from '#core/contract/cases'
import type { DeskRegister } from '#core/contract/desk-register'
import type { Answers } from '#core/form/answer'
import { compileForm } from '#core/form/compile-form'
import { answersOf } from '#core/form/filling'
import { must } from '#core/result'
import { clockNow } from '../common/useClock'
import type { Units } from '../units/useUnits'
import { askedKey, fillingOptions, type Asked } from './askedEntry'
import type { Begun } from './useCaseFilling'
import { doubtsOfEntry, saidOf, type CaseBefore } from './useEntryDoubts'

/** What is kept while somebody types: in this tab of the browser only, and until it is closed. */
interface PaperDraft {
  id: string
  case: string
  edition: number
  unit: string | null
  paperOn: string
  answers: Answers
  explanations: Record<string, string>
}

/** Of a page that is reloaded, what was typed comes back; of a tab that is closed, nothing stays. */
const draftsHere = {
  read: (place: string) => JSON.parse(sessionStorage.getItem(place) ?? 'null') as PaperDraft | null,
  write: (place: string, draft: PaperDraft) => sessionStorage.setItem(place, JSON.stringify(draft)),
  remove: (place: string) => sessionStorage.removeItem(place),
}

const readCase = (id: string) => callApi('GET /api/cases/:case', { params: { case: id } })

/** What was known before: the entries, the parent case, and the doubts that there were. */
function knownBefore(
  rules: Begun['rules'],
  file: CaseFileView | null,
  parent: CaseFileView | null,
  today: number,
): CaseBefore {
  const entries = (file?.entries ?? []).map(entryOfKept)
  const parentFile = parent ? foldCase(parent.id, parent.entries.map(entryOfKept)) : undefined
  const doubts =
    file && rules ? findCaseDoubts(rules, [foldCase(file.id, entries)], [parentFile], today)[0]! : []
  return { entries, parent: parentFile, doubts }
}

/**
 * A case form that a facility filled on paper, entered at the office: a new case, a further form, or the
 * correction of an entry. It is judged as on a device, and saved in one act.
 */
export function usePaperEntry(asked: Asked, units: Units) {
  const words = useWords()
  const person = useSession().view?.person.id ?? ''
  const place = `paper|${person}|${askedKey(asked)}`
  const unit = ref<string | null>(null)
  const paperOn = ref('')
  const explanations = reactive<Record<string, string>>({})
  const { busy, problem, run } = useAct()
  let id = uuid()
  let caseId = asked.case ?? uuid()

  /** The newest edition, or for a correction the one in which the entry was filled. */
  function editionFor(newest: DeskRegister, file: CaseFileView | null, edition: number): DeskRegister {
    return edition === newest.edition
      ? newest
      : (file?.editions.find(one => one.edition === edition) ?? newest)
  }

  const load = useLoad(async () => {
    // Answers that are places are shown by their names from the beginning.
    await allPlaces()
    const registers = await callApi('GET /api/desk/registers', {})
    const newest = registers.find(one => one.register === asked.register)
    if (!newest) throw new ApiProblem(404, 'not-found', '')
    const file = asked.case ? await readCase(asked.case) : null
    const parentId = asked.parent ?? file?.parent?.id
    const parent = parentId ? await readCase(parentId) : null
    const corrected = file?.entries.find(one => one.id === asked.corrects)
    if (asked.corrects && !corrected) throw new ApiProblem(404, 'not-found', '')
    const draft = draftsHere.read(place)
    const { edition, definition } = editionFor(
      newest,
      file,
      draft?.edition ?? corrected?.edition ?? newest.edition,
    )
    const form = corrected?.form ?? asked.form
    const own = definition.forms.find(one => (form ? one.form.code === form : one.role === 'registration'))
    if (!own) throw new ApiProblem(404, 'not-found', '')
    if (draft) ({ id, case: caseId } = draft)
    // A merged case takes new entries as the one that it is part of; a correction stays with its entry.
    else caseId = corrected?.case ?? file?.id ?? caseId
    unit.value = file?.unit.code ?? draft?.unit ?? asked.unit
    paperOn.value = draft?.paperOn ?? ''
    Object.assign(explanations, draft?.explanations)
    const compiled = must(compileForm(own.form))
    const runnable = runnableRegister(
      definition,
      code => registers.find(({ register }) => register === code)?.definition,
    )
    const rules = runnable.ok ? runnable.value : null
    return {
      register: definition,
      parentRegister: registers.find(({ register }) => register === definition.parent)?.definition ?? null,
      edition,
      compiled,
      rules,
      before: knownBefore(rules, file, parent, words.today()),
      work: useFilling(
        () => compiled,
        draft?.answers ?? corrected?.answers ?? {},
        () => fillingOptions(units, words.today()),
      ),
      name: own.form.name,
      choosesUnit: file === null,
    }
  })

  const answers = computed(() => (load.data.value ? answersOf(load.data.value.work.filling.value) : {}))
  const entryNow = () => ({
    id,
    case: caseId,
    form: load.data.value!.compiled.form.code,
    answers: answers.value,
    madeAt: new Date(clockNow()).toISOString(),
    ...(asked.corrects && { corrects: asked.corrects }),
  })
  const doubts = computed(() => {
    const begun = load.data.value
    return begun?.rules ? doubtsOfEntry(begun.rules, entryNow(), begun.before, words.today()) : []
  })

  let isSaved = false
  watch([answers, unit, paperOn, explanations], () => {
    const begun = load.data.value
    if (!begun || isSaved || !begun.work.filling.value.touched.size) return
    draftsHere.write(place, {
      id,
      case: caseId,
      edition: begun.edition,
      unit: unit.value,
      paperOn: paperOn.value,
      answers: answers.value,
      explanations: { ...explanations },
    })
  })

  /** Saves the entry. @returns the case that it is part of; null where the server refused it, with `problem` */
  async function save(): Promise<string | null> {
    const { register, edition } = load.data.value!
    const { madeAt: _, ...entry } = entryNow()
    const said = saidOf(doubts.value, explanations)
    let taken: string | null = null
    await run(async () => {
      const done = await callApi('POST /api/cases/paper', {
        body: {
          ...entry,
          register: register.code,
          edition,
          unit: unit.value!,
          paperOn: paperOn.value,
          ...(asked.parent && { parent: asked.parent }),
          ...(said && { explanations: said }),
        },
      })
      isSaved = true
      draftsHere.remove(place)
      taken = done.case
    })
    return taken
  }
  return { load, unit, paperOn, doubts, explanations, busy, problem, save }
}
