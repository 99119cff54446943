<script setup lang="ts">
import { FILES_HERE } from '~/device/useFilesHere'
import { UNITS_HERE } from '~/units/useUnits'

/**
 * Fills one form of a case: a new one, a visit, a result, a contact of another, or a correction of an own
 * entry.
 */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const asked = (key: string) => (route.query[key] ? String(route.query[key]) : null)
const { tree, units, cases } = useDeskCases()
provide(UNITS_HERE, units)
provide(FILES_HERE, deskFiles())
const session = useSession()
/** The facilities of the person's area that are open now. */
const facilities = computed(() =>
  [...units.byCode.value.values()]
    .filter(
      unit =>
        unit.level === tree.data.value?.facilityLevel &&
        unit.open &&
        units.above(unit.code).some(({ code }) => code === session.view?.branch?.unit.code),
    )
    .map(({ code, name }) => ({ value: code as string | null, label: name })),
)
const filling = useCaseFilling(
  {
    register: asked('register') ?? '',
    form: asked('form'),
    case: asked('case'),
    corrects: asked('corrects'),
    parent: asked('parent'),
  },
  units,
  () => cases.all.value,
)
const { load } = filling
const now = computed(() => load.data.value?.work.filling.value)
const lacks = computed(() => [...(now.value?.missing ?? []), ...(now.value?.refused.keys() ?? [])])
const nameOf = (key: string) =>
  words.say(
    load.data.value!.compiled.outline.placed.find(
      ({ question }) => question.code === key.split('/').at(-1)!.split('.')[0],
    )?.question.label ?? { en: key },
  )
const looking = ref(false)
/** This device has no room for it: it stays on the page. */
const full = ref(false)
/** Cases that this one may be; null before anybody has looked. */
const same = shallowRef<DeskCase[] | null>(null)
const isNew = computed(() => !asked('case') && !asked('corrects'))
const household = computed(() =>
  isNew.value && load.data.value?.register.follow?.household?.length
    ? cases.all.value.filter(({ register }) => register === asked('register')).slice(0, 200)
    : [],
)

async function save() {
  if (lacks.value.length || !filling.unit.value) {
    looking.value = true
    return
  }
  same.value ??= filling.likely()
  if (same.value.length) return
  try {
    await router.push(`/desk/cases/${await filling.save()}`)
  } catch (error) {
    if (!isFull(error)) throw error
    full.value = true
  }
}
async function another() {
  same.value = []
  await save()
}
const jump = (key: string) =>
  document.querySelector(`[data-question="${key}"]`)?.scrollIntoView({ block: 'center' })
</script>

<template>
  <div>
    <DeskHead
      :title="load.data.value ? words.say(load.data.value.name) : t('cases.title')"
      back="/desk/cases"
      >{{ t('cases.draftKept') }}</DeskHead
    >
    <main class="paper">
      <LoadState v-slot="{ data }" :load="load">
        <div v-if="data.edition !== data.newest" class="note spread" role="status">
          <span>{{ t('cases.olderForm') }}</span><Button
            size="small"
            severity="secondary"
            outlined
            :label="t('cases.moveOn')"
            @click="filling.moveOn()"
          />
        </div>
        <p v-if="filling.left.value.length" class="note" role="status">
          {{
            t(
              'cases.noPlace',
              { count: filling.left.value.length, names: filling.left.value.join(', ') },
              filling.left.value.length,
            )
          }}
        </p>
        <div v-if="filling.choosesUnit.value" class="for">
          <PickOne
            v-model="filling.unit.value"
            input-id="case-unit"
            :label="t('cases.forUnit')"
            :options="facilities"
          />
          <p v-if="looking && !filling.unit.value" role="alert" class="wrong">
            {{ t('cases.forUnitMissing') }}
          </p>
        </div>
        <HouseholdPick
          v-if="household.length"
          :cases="household"
          :title-of="cases.titleOf"
          @pick="filling.carryOver($event)"
        />
        <FormFiller :compiled="data.compiled" :work="data.work" />
        <div v-if="looking && lacks.length" class="note" role="alert">
          <p>
            <strong>{{ t('cases.lacks', { count: lacks.length }, lacks.length) }}</strong>
          </p>
          <ul>
            <li v-for="key in lacks" :key="key">
              <button type="button" class="textual" @click="jump(key)">{{ nameOf(key) }}</button>
            </li>
          </ul>
          <p class="small">{{ t('question.requiredHint') }}</p>
        </div>
        <div v-if="same?.length" class="note" role="alert">
          <p>
            <strong>{{ t('cases.maybe') }}</strong>
          </p>
          <ul>
            <li v-for="one in same" :key="one.id">
              <NuxtLink :to="`/desk/cases/${one.id}`">{{ cases.titleOf(one) }}</NuxtLink>
            </li>
          </ul>
          <p class="small">{{ t('cases.maybeHint') }}</p>
          <Button severity="secondary" outlined :label="t('cases.another')" @click="another" />
        </div>
        <p v-if="full || filling.full.value" class="note" role="alert">{{ t('problem.storage-full') }}</p>
        <div class="foot"><Button :label="t('cases.keep')" icon="pi pi-check" fluid @click="save" /></div>
      </LoadState>
    </main>
  </div>
</template>

<style scoped>
.paper {
  max-width: 720px;
  margin: 0 auto;
  background: var(--card);
}
.for {
  padding: 12px 16px;
}
.wrong {
  color: var(--brick-7);
}
.note {
  padding: 12px 16px;
  background: var(--amber-1);
}
.note ul {
  margin: 4px 0;
  padding-left: 18px;
}
.foot {
  padding: 14px 16px 20px;
}
.foot :deep(button) {
  min-height: 48px;
}
</style>
