<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { printDay } from '#core/calendar/day'
import type { CaseAct } from '#core/cases/life'
import type { DeskRegister } from '#core/contract/desk-register'
import { decideBetween, type CountedEntry, type Entry } from '#core/cases/fold'
import { deviceNow } from '~/common/useClock'
import { casePlace } from '~/device/useDeskStore'
import { FILES_HERE } from '~/device/useFilesHere'
import { useCaseQuestions } from '~/device/useQuestionAnswer'
import { UNITS_HERE } from '~/units/useUnits'

/** One case: the latest known, its entries as they were filled, and what can be added to it. */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const route = useRoute()
const desk = useDesk()
const session = useSession()
const { registersLoad, registers, tree, units, cases } = useDeskCases()
provide(UNITS_HERE, units)
/** The case; one that was merged is found by what it was before, too. */
const one = computed(() => {
  const asked = String(route.params.id)
  return (
    cases.all.value.find(({ id: of }) => of === asked) ??
    cases.all.value.find(({ entries }) => entries.some(entry => entry.case === asked)) ??
    null
  )
})
const id = computed(() => one.value?.id ?? String(route.params.id))
const register = computed(() => (one.value ? (registers.value.get(one.value.register) ?? null) : null))
const forms = computed(
  () =>
    register.value?.forms.filter(
      ({ form, many }) => many || !one.value!.file.entries.some(entry => entry.form === form.code),
    ) ?? [],
)
const children = computed(() =>
  [...registers.value.values()].filter(({ parent }) => parent === register.value?.code),
)
const contacts = computed(() => {
  const own = new Set([id.value, ...(one.value?.entries ?? []).map(entry => entry.case)])
  return cases.all.value.filter(({ entries }) => entries.some(({ parent }) => parent && own.has(parent)))
})
/** The day of its last event. */
const lastOn = computed(() => {
  const last = one.value?.file.entries.at(-1)
  return last ? printDay(Math.floor(last.happenedAt / 86_400_000)) : null
})
/** Saves on this device that the case is moved, closed or opened: the district hears of it with the rest. */
async function act(given: CaseAct): Promise<boolean> {
  await desk.saveAct(casePlace(id.value), {
    kind: 'caseAct',
    id: uuid(),
    madeAt: new Date(deviceNow()).toISOString(),
    case: id.value,
    unit: one.value!.life.unit,
    act: given,
  })
  return true
}
provide(FILES_HERE, deskFiles())
/** What the district asks about this case. */
const questions = useCaseQuestions()
const asked = computed(() =>
  (questions.data.value ?? []).filter(({ line }) => line.case.id === id.value && line.state === 'asked'),
)
/**
 * Two people corrected one entry in two ways: what this person chooses becomes the correction of the others.
 */
async function decide(entry: CountedEntry, chosen: Entry) {
  for (const made of decideBetween(entry, chosen)) {
    const { case: of, register: code, edition, form, unit } = entryById(made.corrects)
    await desk.saveEntry({ id: uuid(), case: of, register: code, edition, form, unit, ...made })
  }
}
/** The editions in which its entries were filled, as far as they are on this device. */
const editions = useLoad(
  async () => {
    const wanted = [
      ...new Set(
        (one.value?.entries ?? []).map(({ register: code, edition }) => `register|${code}|${edition}`),
      ),
    ]
    const rows = await Promise.all(wanted.map(key => useDeskStore().serverCache.get('key', key)))
    return new Map(
      rows.flatMap(row => (row ? [[row.key, (row.answer as DeskRegister).definition] as const] : [])),
    )
  },
  () => one.value?.entries.length,
)
const formOf = (entry: string) => {
  const { register: code, edition, form } = entryById(entry)
  return formIn(editions.data.value?.get(`register|${code}|${edition}`) ?? register.value, form)
}
const entryById = (entry: string) => one.value!.entries.find(found => found.id === entry)!
</script>

<template>
  <div>
    <DeskHead :title="one ? cases.titleOf(one) : t('cases.title')" back="/desk/cases">{{
      register ? words.say(register.name) : ''
    }}</DeskHead>
    <main class="list">
      <LoadState :load="registersLoad">
        <p v-if="!one" class="quiet">{{ t('cases.notHere') }}</p>
        <template v-else>
          <CaseStands :one="one" :units="units" />
          <div v-for="{ line } in asked" :key="line.id" class="rival">
            {{ t('caseDoubts.askedHere') }}
            <NuxtLink :to="`/desk/questions/case/${line.id}`">{{ words.say(line.title) }}</NuxtLink>
          </div>
          <section v-for="entry in one.file.entries" :key="entry.id" class="card stack">
            <div class="spread">
              <h2>{{ words.say(formOf(entry.id).name) }}</h2>
              <EntryState :entry="entryById(entry.id)" />
            </div>
            <p v-if="entryById(entry.id).state === 'refused'" class="wrong" role="alert">
              {{ words.problem({ code: entryById(entry.id).why ?? 'server', message: '' }) }}
            </p>
            <p class="small quiet">
              {{
                t('cases.happened', {
                  day: words.plainDay(new Date(entry.happenedAt).toISOString().slice(0, 10)),
                })
              }}<template v-if="entry.corrected.length"> · {{ t('cases.corrected') }}</template>
            </p>
            <EntryAnswers :form="formOf(entry.id)" :answers="entry.answers" />
            <div
              v-for="rival in entry.rivals"
              :key="rival.id"
              class="rival stack"
              role="group"
              :aria-label="t('cases.rival')"
            >
              <p>
                <strong>{{ t('cases.rival') }}</strong>
              </p>
              <EntryAnswers :form="formOf(rival.id)" :answers="rival.answers" />
              <Button
                severity="secondary"
                outlined
                class="decides"
                :label="t('cases.takeRival')"
                @click="decide(entry, rival)"
              />
            </div>
            <Button
              v-if="entry.rivals.length"
              class="decides"
              :label="t('cases.keepThis')"
              @click="decide(entry, entry)"
            />
            <NuxtLink
              :to="`/desk/cases/fill?register=${one.register}&form=${entry.form}&case=${entryById(entry.id).case}&corrects=${entry.id}`"
              >{{ t('cases.correct') }}</NuxtLink
            >
          </section>
          <div class="row">
            <NuxtLink
              v-for="{ form } in forms"
              :key="form.code"
              :to="`/desk/cases/fill?register=${one.register}&form=${form.code}&case=${id}`"
              class="begin"
              ><i class="pi pi-plus" aria-hidden="true" />{{ words.say(form.name) }}</NuxtLink
            >
            <NuxtLink
              v-for="child in children"
              :key="child.code"
              :to="`/desk/cases/fill?register=${child.code}&parent=${id}`"
              class="begin"
              ><i class="pi pi-plus" aria-hidden="true" />{{ words.say(child.name) }}</NuxtLink
            >
          </div>
          <CaseActs
            v-if="!one.isElsewhere && session.can('manageCases')"
            :life="one.life"
            :last-on="lastOn"
            :units="units"
            :facility-level="tree.data.value?.facilityLevel"
            :save="act"
          />
          <template v-if="contacts.length"
            ><h2>{{ t('cases.contacts') }}</h2>
            <NuxtLink
              v-for="contact in contacts"
              :key="contact.id"
              :to="`/desk/cases/${contact.id}`"
              class="card"
              >{{ cases.titleOf(contact) }}</NuxtLink
            ></template
          >
        </template>
      </LoadState>
    </main>
  </div>
</template>

<style scoped>
.list {
  max-width: 720px;
  margin: 0 auto;
  padding: 14px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.begin {
  display: inline-flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
  padding: 0 14px;
  border: 1px solid var(--plum-7);
  border-radius: 10px;
  color: var(--plum-7);
  font-weight: 600;
  text-decoration: none;
}
.rival {
  padding: 10px 12px;
  border-left: 4px solid var(--amber-5);
  background: var(--amber-0);
  border-radius: 8px;
}
.decides {
  align-self: flex-start;
  min-height: 44px;
}
.wrong {
  color: var(--brick-7);
}
</style>
