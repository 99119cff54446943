<script setup lang="ts">
import type { UnitFile } from '#core/contract/units'
import type { Units } from '~/units/useUnits'
import type { UnitAct } from './UnitForm.vue'

/**
 * What is known of one unit: where it belongs, what it was through time, what it reports; and what can be
 * done to it.
 */
const { file, units, today } = defineProps<{ file: UnitFile; units: Units; today: string }>()
const emit = defineEmits<{ changed: []; choose: [code: string] }>()
const words = useWords()
const { t } = words
const session = useSession()
const act = ref<UnitAct | null>(null)
const acts = computed<UnitAct[]>(() =>
  file.unit.open ? ['rename', 'move', 'position', 'close'] : ['reopen'],
)
const below = computed(
  () => (units.children.value.get(file.unit.code) ?? []).filter(({ open }) => open).length,
)
watch(
  () => file.unit.code,
  () => {
    act.value = null
  },
)

function applied() {
  act.value = null
  emit('changed')
}
</script>

<template>
  <article class="stack">
    <div>
      <p class="small quiet path">
        <template v-for="(one, at) in file.path.slice(0, -1)" :key="one.code"
          ><span v-if="at" aria-hidden="true"> › </span
          ><button type="button" class="link" @click="emit('choose', one.code)">
            {{ one.name }}
          </button></template
        >
      </p>
      <h2>
        {{ file.unit.name }} <WordTag v-if="!file.unit.open">{{ t('units.closed') }}</WordTag>
      </h2>
    </div>
    <dl class="facts">
      <div>
        <dt>{{ t('units.level') }}</dt>
        <dd>{{ units.levelName(file.unit.level) }}</dd>
      </div>
      <div>
        <dt>{{ t('units.kind') }}</dt>
        <dd>{{ words.usual(file.unit.kind) || '–' }}</dd>
      </div>
      <div>
        <dt>{{ t('units.code') }}</dt>
        <dd>
          <code>{{ file.unit.code }}</code>
        </dd>
      </div>
      <div>
        <dt>{{ t('units.position') }}</dt>
        <dd>
          {{
            file.unit.latitude === null
              ? t('units.noPosition')
              : `${words.number(file.unit.latitude, 4)}, ${words.number(file.unit.longitude, 4)}`
          }}
        </dd>
      </div>
      <div>
        <dt>{{ t('units.reportsTo') }}</dt>
        <dd>
          {{ file.datasets.length ? file.datasets.map(words.say).join(', ') : t('units.reportsNothing')
          }}<span class="quiet"> · {{ t('units.reports', { count: file.reports }, file.reports) }}</span>
        </dd>
      </div>
      <div v-if="below">
        <dt>{{ t('units.parent') }}</dt>
        <dd>{{ t('units.below', { count: below }, below) }}</dd>
      </div>
    </dl>
    <div v-if="session.can('manageUnits') && !act" class="row">
      <Button
        v-for="one in acts"
        :key="one"
        size="small"
        severity="secondary"
        outlined
        :label="one === 'position' ? t('units.position_act') : t(`units.${one}`)"
        @click="act = one"
      />
      <Button
        v-if="file.unit.open"
        size="small"
        severity="secondary"
        outlined
        icon="pi pi-plus"
        :label="t('units.addBelow')"
        @click="act = 'add'"
      />
    </div>
    <UnitForm
      v-if="act"
      :key="act"
      :act="act"
      :units="units"
      :file="file"
      :today="today"
      @applied="applied"
      @cancel="act = null"
    />
    <p v-if="units.isFacility(file.unit)">
      <NuxtLink :to="facilityFileLink(file.unit.code)">{{ t('facility.title') }}</NuxtLink>
    </p>
    <OutlineForm v-else-if="session.can('manageUnits') && !act" :unit="file.unit.code" />
    <section class="stack">
      <h3>{{ t('units.history') }}</h3>
      <DataTable :value="file.spans" data-key="from" :table-props="{ 'aria-label': t('units.history') }">
        <Column :header="t('units.when')"
          ><template #body="{ data }">{{
            data.to
              ? t('units.span', { from: words.plainDay(data.from), to: words.plainDay(data.to, -1) })
              : t('units.since', { from: words.plainDay(data.from) })
          }}</template></Column
        >
        <Column :header="t('units.name')" field="name" />
        <Column :header="t('units.parent')"
          ><template #body="{ data }">{{ data.parent?.name ?? t('units.top') }}</template></Column
        >
        <Column :header="t('units.kind')"
          ><template #body="{ data }">{{ words.usual(data.kind) }}</template></Column
        >
      </DataTable>
      <ul v-if="file.changes.length" class="small quiet changes">
        <li v-for="change in file.changes" :key="change.at">
          {{ t('units.by', { by: change.by, at: words.moment(change.at) }) }},
          {{ t(`units.source.${change.source}`) }}
        </li>
      </ul>
    </section>
  </article>
</template>

<style scoped>
.path {
  min-height: 18px;
}
.link {
  border: 0;
  padding: 0;
  background: none;
  font: inherit;
  color: var(--plum-7);
  text-decoration: underline;
  cursor: pointer;
}
.facts {
  margin: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 10px 20px;
}
.facts dt {
  font-size: 13px;
  color: var(--ink-5);
}
.facts dd {
  margin: 0;
}
code {
  font-size: 14px;
}
.changes {
  margin: 0;
  padding-left: 18px;
}
</style>
