<script setup lang="ts">
/** What is reported: each dataset's newest edition, with its items, definitions and rules. */
const words = useWords()
const { t } = words
const session = useSession()
const datasets = useLoad(() => callApi('GET /api/datasets', {}))
</script>

<template>
  <div class="page">
    <PageHead :title="t('define.title')"><DefineTabs /></PageHead>
    <DraftList
      v-if="session.can('define')"
      :taken="(datasets.data.value ?? []).map(({ edition }) => edition.dataset)"
      class="drafts"
    />
    <LoadState
      v-slot="{ data }"
      :load="datasets"
      :empty="datasets.data.value?.length === 0"
      :empty-text="t('today.empty')"
    >
      <section v-for="{ edition, publishedAt, expectedNow } in data" :key="edition.dataset" class="stack">
        <div>
          <div class="spread">
            <h2>{{ words.say(edition.name) }}</h2>
            <NuxtLink v-if="session.can('define')" :to="`/define/dataset/${edition.dataset}`">{{
              t('draft.edit', { number: edition.number + 1 })
            }}</NuxtLink>
          </div>
          <p class="quiet small">
            {{ t('define.edition', { number: edition.number, day: words.day(publishedAt) }) }} ·
            {{ t('define.units', { count: expectedNow }) }} ·
            {{ t('define.due', { days: edition.timing.dueDays }) }}
          </p>
        </div>
        <details v-for="section in edition.sections" :key="section.code" class="card">
          <summary>
            <strong>{{ words.say(section.name) }}</strong>{{ ' ' }}
            <span class="quiet small">{{ t('define.items', { count: section.items.length }) }}</span>
          </summary>
          <DataTable :value="section.items" data-key="code">
            <Column :header="t('figures.item')"
              ><template #body="{ data: item }"
                ><strong>{{ words.say(item.name) }}</strong>
                <p class="small quiet">{{ words.say(item.definition) }}</p></template
              ></Column
            >
            <Column :header="t('define.code')"
              ><template #body="{ data: item }"
                ><code>{{ item.code }}</code></template
              ></Column
            >
            <Column :header="t('define.breakdown')"
              ><template #body="{ data: item }">{{
                item.axes
                  .map((code: string) => words.say(edition.axes.find(axis => axis.code === code)!.name))
                  .join(' × ') || '–'
              }}</template></Column
            >
            <Column :header="t('define.rollUp')"
              ><template #body="{ data: item }">{{ t(`rollUp.${item.rollUp}`) }}</template></Column
            >
          </DataTable>
        </details>
        <details class="card">
          <summary>
            <strong>{{ t('define.rules') }}</strong>{{ ' ' }}
            <span class="quiet small">{{ edition.rules.length }}</span>
          </summary>
          <DataTable :value="edition.rules" data-key="code">
            <Column :header="t('define.rule')"
              ><template #body="{ data: rule }"
                ><strong>{{ words.say(rule.name) }}</strong>
                <p class="small quiet">{{ words.say(rule.forOfficer) }}</p></template
              ></Column
            >
            <Column :header="t('define.strength')"
              ><template #body="{ data: rule }"><StrengthTag :strength="rule.strength" /></template
            ></Column>
            <Column :header="t('define.mustHold')"
              ><template #body="{ data: rule }"
                ><code>{{ rule.expression }}</code></template
              ></Column
            >
          </DataTable>
        </details>
      </section>
    </LoadState>
  </div>
</template>

<style scoped>
.drafts {
  margin-bottom: 18px;
}
details summary {
  cursor: pointer;
  padding: 4px 0;
}
code {
  font-size: 13px;
  overflow-wrap: anywhere;
}
</style>
