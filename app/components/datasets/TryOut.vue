<script setup lang="ts">
import { withOthers } from '#core/define/named-datasets'
import type { Edition } from '#core/report/edition'
import type { RuleDefinition } from '#core/rule/definition'

/**
 * A rule on the reports of the last rounds: how often it would have fired, where and when, each hit to open.
 */
const { dataset, edition, rule, sound } = defineProps<{
  dataset: string
  edition: Edition
  rule: RuleDefinition
  sound: boolean
}>()
const words = useWords()
const { t } = words
const work = useTryOut(() => dataset)
const { state, share, found, milliseconds, problem } = work
const doubts = useDoubtWords(() => namesOfEdition(edition))
/** A rule that would ask in more than so many reports of a hundred is one that people learn to click away. */
const CRIES_WOLF = 0.05
const ROWS_SHOWN = 30
const open = ref<{ unit: number; period: number } | null>(null)
/** Names of the other datasets that the rule looks at: only its own reports are read here. */
const namedHere = computed(() =>
  (withOthers({ ...edition, rules: [rule] }, edition.others ?? []).others ?? []).map(({ name }) =>
    words.say(name),
  ),
)
const changedSince = computed(
  () => found.value !== null && JSON.stringify(found.value.rule) !== JSON.stringify(rule),
)
const often = computed(() =>
  found.value && found.value.result.reports ? found.value.result.fired / found.value.result.reports : 0,
)
/** Oldest first, as people read time. */
const periods = computed(() =>
  found.value
    ? found.value.past.periods
        .slice(0, found.value.past.judged)
        .map((one, at) => ({ ...one, at }))
        .reverse()
    : [],
)
const rows = computed(() => {
  if (!found.value) return []
  const byUnit = new Map<number, Map<number, number>>()
  for (const { unit, period } of found.value.result.hits) {
    const ofUnit = byUnit.get(unit) ?? new Map<number, number>()
    ofUnit.set(period, (ofUnit.get(period) ?? 0) + 1)
    byUnit.set(unit, ofUnit)
  }
  return [...byUnit]
    .map(([unit, hits]) => ({ unit, name: found.value!.past.units[unit]!.name, hits, months: hits.size }))
    .sort((one, other) => other.months - one.months || one.name.localeCompare(other.name))
})
const opened = computed(() =>
  open.value && found.value
    ? found.value.result.hits.filter(
        hit => hit.unit === open.value!.unit && hit.period === open.value!.period,
      )
    : [],
)
const bandName = (code: string | null) =>
  code?.includes('.') ? code.split('.').map(oneBand).join(', ') : oneBand(code)
const oneBand = (code: string | null): string =>
  code
    ? words.say(
        edition.axes.flatMap(axis => axis.bands).find(band => band.code === code)?.name ?? { en: code },
      )
    : ''
const received = (unit: number, period: number) =>
  Boolean(found.value?.past.received[period * found.value.past.units.length + unit])
const numbersOf = (hit: (typeof opened.value)[number]) =>
  hit.explanation ? doubts.explained(hit.explanation, true) : ''
function start() {
  open.value = null
  void work.start(edition, rule)
}
</script>

<template>
  <TryOutFrame
    :state="state"
    :share="share"
    :act="t('tryOut.start')"
    :problem="problem"
    :sound="sound"
    @start="start"
    @stop="work.stop()"
  >
    <template #note>
      <p v-if="namedHere.length" class="quiet">
        {{ t('tryOut.others', { names: namedHere.join(', ') }) }}
      </p>
    </template>
    <p v-if="found && !found.past.units.length" class="quiet" role="status">{{ t('onReport.none') }}</p>
    <template v-else-if="found">
      <p role="status">
        <strong>{{
          t('tryOut.fired', {
            fired: words.number(found.result.fired),
            reports: words.number(found.result.reports),
            share: words.percent(often, 1),
          })
        }}</strong>
        {{ ' '
        }}<span class="quiet small">{{
          t('tryOut.rest', {
            notJudged: words.number(found.result.notJudged),
            seconds: words.number(milliseconds / 1000, 2),
          })
        }}</span>
      </p>
      <Message v-if="changedSince" severity="secondary" :closable="false">{{
        t('tryOut.changedSince')
      }}</Message>
      <Message v-else-if="often > CRIES_WOLF" severity="warn" :closable="false">{{
        t('tryOut.criesWolf')
      }}</Message>
      <div v-if="rows.length" class="scroll" tabindex="0" :aria-label="t('tryOut.where')">
        <table>
          <thead>
            <tr>
              <th scope="col">{{ t('tryOut.facility') }}</th>
              <th v-for="one in periods" :key="one.period" scope="col">
                {{ words.period(one.period, 'short') }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows.slice(0, ROWS_SHOWN)" :key="row.unit">
              <th scope="row">{{ row.name }}</th>
              <td v-for="one in periods" :key="one.period">
                <button
                  v-if="row.hits.has(one.at)"
                  type="button"
                  :class="{ here: open?.unit === row.unit && open.period === one.at }"
                  :aria-label="
                    t('tryOut.hit', {
                      name: row.name,
                      period: words.period(one.period),
                      count: row.hits.get(one.at)!,
                    })
                  "
                  @click="open = { unit: row.unit, period: one.at }"
                >
                  {{ row.hits.get(one.at) }}
                </button>
                <span v-else class="quiet" aria-hidden="true">{{
                  received(row.unit, one.at) ? '·' : ''
                }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="rows.length > ROWS_SHOWN" class="small quiet">
        {{ t('tryOut.more', { count: rows.length - ROWS_SHOWN }) }}
      </p>
      <div v-if="open && opened.length" class="opened stack">
        <h3>
          {{ found.past.units[open.unit]!.name }}, {{ words.period(found.past.periods[open.period]!.period) }}
        </h3>
        <p v-for="(hit, at) in opened" :key="at">
          {{ hit.band ? words.pair(bandName(hit.band)!, numbersOf(hit)) : numbersOf(hit) }}
        </p>
        <NuxtLink
          :to="
            facilityLink(
              `${dataset}~${found.past.periods[open.period]!.period}`,
              found.past.units[open.unit]!.code,
            )
          "
          target="_blank"
          >{{ t('tryOut.open') }}</NuxtLink
        >
      </div>
    </template>
  </TryOutFrame>
</template>

<style scoped>
.scroll {
  overflow: auto;
  max-height: 420px;
}
table {
  border-collapse: collapse;
  font-size: 14px;
}
th {
  font-weight: 600;
  text-align: left;
  white-space: nowrap;
  padding: 4px 6px;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--sand);
  font-size: 13px;
  color: var(--ink-7);
}
tbody tr {
  border-bottom: 1px solid var(--line);
}
td {
  text-align: center;
  padding: 2px 3px;
}
td button {
  min-width: 28px;
  height: 26px;
  border: 1px solid var(--amber-5);
  border-radius: 6px;
  background: var(--amber-1);
  color: var(--amber-7);
  font: 600 14px var(--body);
  cursor: pointer;
}
td button.here {
  background: var(--amber-7);
  color: var(--card);
}
.opened {
  gap: 6px;
  padding: 10px 12px;
  border-left: 4px solid var(--amber-5);
  background: var(--amber-0);
}
</style>
