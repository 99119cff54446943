<script setup lang="ts">
import { unsaidOf } from '~/cases/useEntryDoubts'
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
const asked = askedIn(route.query)
const { registers, tree, units, cases } = useDeskCases()
provide(UNITS_HERE, units)
provide(FILES_HERE, deskFiles())
const session = useSession()
/** The facilities of the person's area that are open now. */
const facilities = computed(() =>
  openFacilities(units, tree.data.value?.facilityLevel, session.view?.branch?.unit.code),
)
const filling = useCaseFilling(asked, units, () => cases.all.value)
const { load } = filling
const lacks = computed(() => lacksOf(load.data.value?.work.filling.value))
const looking = ref(false)
/** Doubts about which somebody must say something, and has not. */
const unsaid = computed(() => unsaidOf(filling.doubts.value, filling.explanations))
/** This device has no room for it: it stays on the page. */
const full = ref(false)
/** Cases that this one may be; null before anybody has looked. */
const same = shallowRef<DeskCase[] | null>(null)
const isNew = computed(() => !asked.case && !asked.corrects)
const household = computed(() =>
  isNew.value && load.data.value?.register.follow?.household?.length
    ? cases.all.value.filter(({ register }) => register === asked.register).slice(0, 200)
    : [],
)

async function save() {
  if (lacks.value.length || unsaid.value.length || !filling.unit.value) {
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
        <LacksNote v-if="looking && lacks.length" :lacks="lacks" :compiled="data.compiled" @jump="jump" />
        <EntryDoubts
          v-if="filling.doubts.value.length"
          v-model="filling.explanations"
          :doubts="filling.doubts.value"
          :form="data.compiled"
          :register="data.register"
          :parent="registers.get(data.register.parent ?? '') ?? null"
          :unsaid="looking ? unsaid.length : 0"
          @jump="jump"
        />
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
