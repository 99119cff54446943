<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'
import type { ReportStory } from '#core/contract/paper-report'

/** Who filled a report, when and on what, from which paper, and what became of it. */
const { file } = defineProps<{ file: ReportFile }>()
const words = useWords()
const { t } = words
const story = useLoad(
  () =>
    callApi('GET /api/reports/:round/:unit/story', {
      params: { round: file.round.id, unit: file.unit.code },
    }),
  () => [file.round.id, file.unit.code, file.state],
)
const filledText = ({ by, device, origin, cells }: ReportStory['filled'][number]) =>
  [by, device ?? t(`origin.${origin}`), t('reportStory.values', { count: cells }, cells)]
    .filter(Boolean)
    .join(' · ')
</script>

<template>
  <section class="card stack story" :aria-labelledby="'report-story'">
    <h2 id="report-story">{{ t('reportStory.title') }}</h2>
    <LoadState v-slot="{ data }" :load="story">
      <p v-if="data.edition" class="quiet small">{{ t('reportStory.edition', { edition: data.edition }) }}</p>
      <div class="columns">
        <div>
          <h3>{{ t('reportStory.filled') }}</h3>
          <ul class="plain-list stack">
            <li v-for="(one, at) in data.filled" :key="at">
              {{ filledText(one) }} <span class="small quiet">{{ words.moment(one.lastAt) }}</span>
            </li>
          </ul>
        </div>
        <div>
          <h3>{{ t('reportStory.moves') }}</h3>
          <ul class="plain-list stack">
            <li v-for="(one, at) in data.moves" :key="at">
              {{ t(`state.${one.to}`) }}
              <span class="small quiet">{{
                [one.by, words.moment(one.at)].filter(Boolean).join(' · ')
              }}</span>
              <q v-if="one.why">{{ one.why }}</q>
            </li>
          </ul>
        </div>
        <div v-if="data.papers.length">
          <h3>{{ t('reportStory.papers') }}</h3>
          <ul class="plain-list stack">
            <li v-for="(one, at) in data.papers" :key="at">
              {{ t('reportStory.paper', { day: words.plainDay(one.paperOn), by: one.filledBy }) }}
              <span class="small quiet">{{
                t('reportStory.entered', { by: one.by, at: words.moment(one.at) })
              }}</span>
            </li>
          </ul>
        </div>
      </div>
    </LoadState>
  </section>
</template>

<style scoped>
.story {
  margin-top: 16px;
}
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(240px, 1fr));
  gap: 20px;
}
.small {
  display: block;
}
</style>
