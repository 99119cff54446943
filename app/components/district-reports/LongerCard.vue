<script setup lang="ts">
/**
 * The same items from the beginning of the month, quarter and year up to this round: through the borders of
 * the time, or as if today's had always been. Read when somebody opens it.
 */
const { round, unit } = defineProps<{ round: string; unit: string | undefined }>()
const words = useWords()
const { t } = words
const isOpen = ref(false)
const borders = ref<'then' | 'today'>('then')
const longer = useLoad(
  async () =>
    isOpen.value
      ? callApi('GET /api/district-reports/:round/longer', {
          params: { round },
          query: { unit, borders: borders.value },
        })
      : null,
  () => [round, unit, borders.value, isOpen.value],
)
const spans = computed(() => longer.data.value?.spans ?? [])
const rows = computed(() =>
  (spans.value[0]?.lines ?? []).map(({ item, name }, at) => ({
    item,
    name,
    values: spans.value.map(({ lines }) => lines[at]!),
  })),
)
</script>

<template>
  <details class="card longer" @toggle="isOpen = ($event.target as HTMLDetailsElement).open">
    <summary>
      <h2>{{ t('longer.title') }}</h2>
    </summary>
    <LoadState v-if="isOpen" v-slot="{ data }" :load="longer">
      <p v-if="!data?.spans.length" class="quiet">{{ t('longer.none') }}</p>
      <template v-else>
        <div class="fields">
          <PickOne
            v-model="borders"
            input-id="longer-borders"
            :label="t('longer.borders')"
            :options="(['then', 'today'] as const).map(value => ({ value, label: t(`longer.${value}`) }))"
          />
        </div>
        <DataTable :value="rows" data-key="item" :table-props="{ 'aria-label': t('longer.title') }">
          <Column :header="t('figures.item')"
            ><template #body="{ data: row }">{{ words.say(row.name) }}</template></Column
          >
          <Column v-for="(span, at) in data.spans" :key="span.period" class="number">
            <template #header>
              <span class="head"
                >{{ words.period(span.period)
                }}<small class="quiet">{{
                  t(
                    'longer.in',
                    { received: span.received, expected: span.expected, rounds: span.rounds },
                    span.rounds,
                  )
                }}</small></span
              >
            </template>
            <template #body="{ data: row }"
              ><strong>{{ words.number(row.values[at].value, 1) }}</strong></template
            >
          </Column>
        </DataTable>
      </template>
    </LoadState>
  </details>
</template>

<style scoped>
.longer[open] {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
summary {
  cursor: pointer;
}
summary h2 {
  display: inline;
}
.head small {
  display: block;
  font-weight: 400;
}
</style>
