<script setup lang="ts">
import type { ReportsLine } from '#core/contract/drafts'
import type { UnitGroupLine } from '#core/contract/units'
import type { DraftWork } from '~/define/useDraft'
import { printDay } from '#core/calendar/day'
import type { Units } from '~/units/useUnits'

/**
 * Who reports a dataset: lines by level, branch, group or single unit, each over days; and what that comes to
 * today.
 */
const { work, units, levels, groups } = defineProps<{
  work: DraftWork
  units: Units
  levels: string[]
  groups: readonly UnitGroupLine[]
}>()
const words = useWords()
const { t } = words
const lines = computed(() => work.reports.value!)
const reporting = computed(() => work.file.value?.reporting)
const WAYS = ['level', 'branch', 'group', 'unit'] as const
const top = computed(
  () =>
    [...units.byCode.value.values()].find(({ parent }) => parent === null || !units.byCode.value.has(parent))
      ?.code ?? '',
)
function lineBy(by: ReportsLine['by'], { from, to }: Pick<ReportsLine, 'from' | 'to'>): ReportsLine {
  if (by === 'level') return { by, level: levels.length, branch: top.value || null, from, to }
  if (by === 'branch') return { by, branch: top.value, from, to }
  if (by === 'group') return { by, group: groups[0]?.code ?? '', from, to }
  return { by, unit: top.value, from, to }
}
function add() {
  const from = lines.value.at(-1)?.from ?? `${printDay(words.today()).slice(0, 7)}-01`
  lines.value.push(lineBy('unit', { from, to: null }))
}
const dayOf = (line: ReportsLine) =>
  computed<string>({
    get: () => line.to ?? '',
    set: next => {
      line.to = next || null
    },
  })
const named = (of: { units: { name: string }[]; count: number }) => {
  const said = of.units.map(({ name }) => name).join(', ')
  return of.count > of.units.length ? `${said} …` : said
}
</script>

<template>
  <section class="card stack">
    <h2>{{ t('draft.who') }}</h2>
    <fieldset v-for="(line, at) in lines" :key="at" class="plain line">
      <legend class="visually-hidden">{{ t('reporting.line', { number: at + 1 }) }}</legend>
      <div class="fields">
        <PickOne
          :model-value="line.by"
          :input-id="`who-${at}`"
          :label="t('reporting.by')"
          :options="
            WAYS.filter(one => one !== 'group' || groups.length).map(one => ({
              value: one,
              label: t(`reporting.way.${one}`),
            }))
          "
          @update:model-value="lines[at] = lineBy($event, line)"
        />
        <PickOne
          v-if="line.by === 'level'"
          v-model="line.level"
          :input-id="`level-${at}`"
          :label="t('reporting.level')"
          :options="levels.map((name, depth) => ({ value: depth + 1, label: name }))"
        />
        <div v-if="line.by === 'level' || line.by === 'branch'" class="field wide">
          <label :for="`branch-${at}`">{{ t('reporting.branch') }}</label><UnitPicker
            :key="`${line.by}-${at}`"
            v-model="line.branch as string | null"
            :input-id="`branch-${at}`"
            :units="units"
            :needed="line.by === 'branch'"
          />
        </div>
        <PickOne
          v-if="line.by === 'group'"
          v-model="line.group"
          :input-id="`group-${at}`"
          :label="t('reporting.way.group')"
          :options="groups.map(group => ({ value: group.code, label: words.say(group.name) }))"
        />
        <div v-if="line.by === 'unit'" class="field wide">
          <label :for="`unit-${at}`">{{ t('reporting.way.unit') }}</label><UnitPicker
            v-model="line.unit as string | null"
            :input-id="`unit-${at}`"
            :units="units"
            needed
          />
        </div>
        <div class="field">
          <label :for="`from-${at}`">{{ t('units.day') }}</label><DayField
            v-model="line.from"
            :input-id="`from-${at}`"
            required
          />
        </div>
        <div class="field">
          <label :for="`to-${at}`">{{ t('reporting.to') }}</label><DayField
            v-model="dayOf(line).value"
            :input-id="`to-${at}`"
          />
        </div>
        <Button
          text
          size="small"
          severity="secondary"
          icon="pi pi-trash"
          :aria-label="t('reporting.remove', { number: at + 1 })"
          @click="lines.splice(at, 1)"
        />
      </div>
    </fieldset>
    <div><Button size="small" text icon="pi pi-plus" :label="t('reporting.add')" @click="add" /></div>
    <template v-if="reporting">
      <p role="status">
        <strong>{{ t('draft.units', { count: reporting.all.count }, reporting.all.count) }}</strong>
      </p>
      <p v-if="reporting.joins.count" class="small">
        <strong>{{ t('reporting.joins', { count: reporting.joins.count }) }}</strong>
        {{ named(reporting.joins) }}
      </p>
      <p v-if="reporting.leaves.count" class="small">
        <strong>{{ t('reporting.leaves', { count: reporting.leaves.count }) }}</strong>
        {{ named(reporting.leaves) }}
      </p>
      <details>
        <summary>{{ t('reporting.list') }}</summary>
        <p class="small">{{ named(reporting.all) }}</p>
      </details>
    </template>
  </section>
</template>

<style scoped>
.line {
  padding-bottom: 10px;
  border-bottom: 1px solid var(--line);
}
summary {
  cursor: pointer;
}
</style>
