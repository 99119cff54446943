<script setup lang="ts">
/** The cases of this facility: what has to be done first, the search here, and then in the district. */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const desk = useDesk()
const vault = useVault()
const { registersLoad, registers, cases } = useDeskCases()
const drafts = useFormDrafts()
const sought = ref('')
const FILTERS = ['all', 'visitDue', 'resultAwaited'] as const
const filter = ref<(typeof FILTERS)[number]>('all')
const filters = computed(() => FILTERS.map(value => ({ value, label: t(`cases.only.${value}`) })))
const today = words.today()
const isAsked = ({ follow }: DeskCase) =>
  filter.value === 'visitDue' ? follow.nextVisit !== null && follow.nextVisit <= today : follow.resultAwaited
const found = computed(() => {
  const all = cases.find(sought.value)
  return filter.value === 'all' ? all : all.filter(isAsked)
})
/**
 * While one searches fewer are shown, so that each letter is answered at once: the next letter narrows it.
 */
const shown = computed(() => found.value.slice(0, sought.value.trim() ? 10 : 30))
const cards = useTopFirst(() => shown.value, 4)
/** A case of a child register is begun from the case that it belongs to. */
const begins = computed(() => [...registers.value.values()].filter(register => !register.parent))
const nameOf = (register: string) => words.say(registers.value.get(register)?.name ?? { en: register })
const draftName = ({ asked }: { asked: Asked }) => {
  const register = registers.value.get(asked.register)
  const own = register?.forms.find(({ form, role }) =>
    asked.form ? form.code === asked.form : role === 'registration',
  )
  return own ? words.say(own.form.name) : asked.register
}
const draftAt = ({ asked }: { asked: Asked }) => ({
  path: '/desk/cases/fill',
  query: Object.fromEntries(Object.entries(asked).filter(([, value]) => value)),
})
const removing = ref<string | null>(null)
const asks = openWhile(removing)
async function remove() {
  await drafts.remove(removing.value!)
  removing.value = null
}
/** Search on the server, for people who may see more than this facility. What is found here is shown first. */
const isOffered = useSoon(() => sought.value.trim().length >= 3)
const { busy, problem, run } = useAct()
const district = shallowRef<AnswerOf<'GET /api/cases'>['lines'] | null>(null)
const districtTitle = ({ register, answers }: AnswerOf<'GET /api/cases'>['lines'][number]) => {
  const definition = registers.value.get(register)
  return cases.titleOfLine(definition ? cases.lineOf(definition, code => answers[code]) : [])
}
watch(sought, () => {
  district.value = null
})
const askDistrict = () =>
  run(async () => {
    district.value = (await callApi('GET /api/cases', { query: { find: sought.value.trim() } })).lines
  })
</script>

<template>
  <div>
    <DeskHead :title="t('cases.title')">{{
      desk.waiting.value
        ? t('due.waiting', { count: desk.waiting.value }, desk.waiting.value)
        : t('due.nothingWaiting')
    }}</DeskHead>
    <main class="list">
      <LoadState
        :load="registersLoad"
        :empty="registersLoad.data.value?.length === 0"
        :empty-text="t('cases.noRegister')"
      >
        <div class="row">
          <NuxtLink
            v-for="register in begins"
            :key="register.code"
            :to="`/desk/cases/fill?register=${register.code}`"
            class="begin"
            ><i class="pi pi-plus" aria-hidden="true" />{{ words.say(register.name) }}</NuxtLink
          >
        </div>
        <section v-for="draft in drafts.load.data.value ?? []" :key="draft.place" class="card spread">
          <NuxtLink :to="draftAt(draft)"
            ><strong>{{ t('cases.goOn', { form: draftName(draft) }) }}</strong
            ><br /><span class="small quiet">{{
              t('cases.begun', { at: words.moment(new Date(draft.at).toISOString()) })
            }}</span></NuxtLink
          >
          <Button
            v-if="vault.device?.settings.may.deleteDrafts"
            severity="secondary"
            text
            icon="pi pi-trash"
            :aria-label="t('cases.removeDraft')"
            @click="removing = draft.place"
          />
        </section>
        <InputText
          v-model="sought"
          fluid
          :placeholder="t('cases.find')"
          :aria-label="t('cases.find')"
          maxlength="100"
        />
        <FilterButtons v-model="filter" :label="t('cases.filter')" :options="filters" />
        <LoadState :load="cases.load">
          <p v-if="!found.length" class="quiet" role="status">
            {{
              sought.trim()
                ? t('cases.notHere')
                : filter === 'all'
                  ? t('cases.noneHere')
                  : t('cases.noneSuch')
            }}
          </p>
          <!-- By place, not by case: at each letter the cards stay and say something else, which a slow phone does three times as fast. -->
          <CaseCard
            v-for="(one, at) in cards"
            :key="at"
            :one="one"
            :name="nameOf(one.register)"
            :title-of="cases.titleOf"
          />
          <p v-if="found.length > shown.length" class="quiet small">
            {{ t('cases.more', { count: found.length - shown.length }) }}
          </p>
        </LoadState>
        <template v-if="isOffered">
          <Button
            severity="secondary"
            outlined
            icon="pi pi-search"
            :label="t('cases.inDistrict')"
            :loading="busy"
            @click="askDistrict"
          />
          <ProblemNote :problem="problem" />
          <p v-if="district?.length === 0" class="quiet" role="status">{{ t('cases.notInDistrict') }}</p>
          <p v-for="one in district ?? []" :key="one.id" class="card">
            <strong>{{ districtTitle(one) }}</strong><br /><span class="small quiet"
              >{{ one.unit.name }} · {{ words.plainDay(one.lastOn) }}</span
            >
          </p>
        </template>
      </LoadState>
      <SyncButton />
    </main>
    <AskDialog
      v-if="removing"
      v-model:visible="asks"
      :title="t('cases.removeDraft')"
      :act="t('cases.removeDraft')"
      @go="remove"
      ><p>{{ t('cases.removeAsk') }}</p></AskDialog
    >
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
  border-radius: 10px;
  background: var(--plum-7);
  color: var(--card);
  font-weight: 600;
  text-decoration: none;
}
.list :deep(button) {
  min-height: 44px;
}
</style>
