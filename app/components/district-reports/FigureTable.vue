<script setup lang="ts">
import { printDay } from '#core/calendar/day'
import type { FigureLine } from '#core/contract/district-reports'

/**
 * The figures of one section; a line opens to its bands. Each says how many reports are in it, of the
 * facilities that offer the service.
 */
const { lines, expected } = defineProps<{ lines: FigureLine[]; expected: number }>()
const words = useWords()
const { t } = words
const open = ref<Record<string, boolean>>({})
/** Compared are the facilities that are in both rounds; a report that was signed long ago compared all. */
const before = (line: FigureLine) => line.compared?.before ?? line.before
const change = (line: FigureLine) => {
  const [now, then] = line.compared ? [line.compared.now, line.compared.before] : [line.value, line.before]
  return now === null || !then ? null : now / then - 1
}
const opens = ({ bands, answers }: FigureLine) => bands.length > 0 || (answers ?? []).length > 0
const answeredBy = ({ answers = [] }: FigureLine) => answers.filter(({ units }) => units.length > 0)
/** “No 4 · Yes 16”; the share of each; the latest day; a number. */
function figureText(line: FigureLine): string {
  const { rollUp, value, reportsIn } = line
  if (rollUp === 'latest') return value === null ? '–' : words.plainDay(printDay(value))
  if (rollUp !== 'counts' && rollUp !== 'share') return words.number(value, 1)
  const shown = answeredBy(line).map(
    ({ label, units }) =>
      `${words.say(label)} ${rollUp === 'share' ? words.percent(units.length / reportsIn) : words.number(units.length)}`,
  )
  return shown.join(' · ') || '–'
}
const namesOf = ({ names }: FigureLine['bands'][number]) => names.map(words.say).join(', ')
</script>

<template>
  <DataTable v-model:expanded-rows="open" :value="lines" data-key="item">
    <Column :header="t('figures.item')">
      <template #body="{ data }">
        <button
          v-if="opens(data)"
          class="opens"
          type="button"
          :aria-expanded="Boolean(open[data.item])"
          @click="open = { ...open, [data.item]: !open[data.item] }"
        >
          <i :class="['pi', open[data.item] ? 'pi-angle-down' : 'pi-angle-right']" aria-hidden="true" />
          {{ words.say(data.name) }}
        </button>
        <span v-else class="flat">{{ words.say(data.name) }}</span>
      </template>
    </Column>
    <Column :header="t('figures.value')" class="number"
      ><template #body="{ data }"
        ><strong>{{ figureText(data) }}</strong></template
      ></Column
    >
    <Column
      :header="t(lines.some(({ compared }) => compared) ? 'figures.beforeSame' : 'figures.before')"
      class="number"
      ><template #body="{ data }"
        >{{ words.number(before(data), 1)
        }}<small v-if="data.compared && data.compared.reports < data.reportsIn" class="quiet">{{
          t('figures.sameFacilities', {
            reports: data.compared.reports,
            now: words.number(data.compared.now, 1),
          })
        }}</small></template
      ></Column
    >
    <Column :header="t('figures.change')" class="number"
      ><template #body="{ data }"
        ><span class="quiet">{{
          change(data) === null ? '–' : `${change(data)! > 0 ? '+' : ''}${words.percent(change(data), 0)}`
        }}</span></template
      ></Column
    >
    <Column :header="t('figures.reports')" class="number"
      ><template #body="{ data }">{{
        t('figures.in', { in: data.reportsIn, expected: data.offering ?? expected })
      }}</template></Column
    >
    <template #expansion="{ data }">
      <div v-if="data.answers" class="answers">
        <p v-for="answer in answeredBy(data)" :key="answer.code">
          <strong>{{
            data.rollUp === 'none'
              ? words.say(answer.label)
              : t('figures.answered', {
                  count: answer.units.length,
                  all: data.reportsIn,
                  answer: words.say(answer.label),
                })
          }}</strong>{{ ' ' }}
          <span class="small">{{ answer.units.map(({ name }: { name: string }) => name).join(', ') }}</span>
        </p>
      </div>
      <div v-else class="bands">
        <div v-for="band in data.bands" :key="band.cell">
          <span class="quiet small">{{ namesOf(band) }}</span>{{ ' ' }}
          <strong>{{ words.number(band.value, 1) }}</strong>{{ ' ' }}
          <span class="quiet small">{{
            t('figures.in', { in: band.reportsIn, expected: band.offering ?? expected })
          }}</span>
        </div>
      </div>
    </template>
  </DataTable>
</template>

<style scoped>
.opens {
  border: 0;
  text-align: left;
  background: none;
  font: inherit;
  color: inherit;
  cursor: pointer;
  padding: 2px 0;
  display: flex;
  gap: 6px;
  align-items: baseline;
}
.opens i {
  flex: none;
  width: 14px;
}
small {
  display: block;
  font-size: 12px;
}
.flat {
  display: block;
  padding-left: 20px;
}
.answers {
  display: grid;
  gap: 6px;
  padding: 2px 22px 8px;
}
.bands {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 6px 18px;
  padding: 2px 22px 8px;
}
</style>
