<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import type { ReportFile } from '#core/contract/reports'
import { trialEdition } from '#core/define/trial-edition'
import type { CellContent } from '#core/report/cell'
import type { Edition } from '#core/report/edition'

/**
 * The dataset as a clerk would fill it, with its checks, for trial: nothing of it is kept. What was typed
 * stays while the draft changes.
 */
const { draft } = defineProps<{ draft: Edition }>()
const words = useWords()
const { t } = words
/** How long the draft must be quiet before the trial follows it. */
const WAIT = 500
const typed: Record<string, CellContent> = {}
const fileOf = (edition: Edition): ReportFile => ({
  round: {
    id: `${edition.dataset}~2026-01`,
    dataset: edition.dataset,
    name: edition.name,
    period: '2026-01',
    opensAt: '',
    dueAt: '',
    closesAt: '',
  },
  unit: { code: 'trial', name: '' },
  district: { code: 'trial', name: '' },
  state: 'draft',
  sign: 'draft',
  receivedAt: null,
  sentBackWhy: null,
  edition,
  cells: Object.entries(typed).map(([cell, content]) => ({ cell, content, version: 0 })),
  history: { periods: [], received: [], numbers: {}, notKnown: {}, notOffered: {} },
  discrepancies: [],
  comments: {},
  conflicts: [],
  late: [],
  letIn: null,
})
const file = shallowRef(fileOf(trialEdition(JSON.parse(JSON.stringify(draft)) as Edition)))
const version = ref(0)
watchDebounced(
  () => draft,
  () => {
    file.value = fileOf(trialEdition(JSON.parse(JSON.stringify(draft)) as Edition))
    version.value++
  },
  { deep: true, debounce: WAIT },
)
const open = ref<string | null>(null)
const section = computed(
  () => file.value.edition.sections.find(({ code }) => code === open.value) ?? file.value.edition.sections[0],
)
</script>

<template>
  <PhoneFrame :title="words.say(draft.name)">
    <p v-if="!section" class="quiet empty">{{ t('draft.lack.no-items') }}</p>
    <template v-else>
      <nav :aria-label="t('report.sections')">
        <button
          v-for="(one, place) in file.edition.sections"
          :key="one.code"
          type="button"
          :aria-label="`${place + 1} ${words.say(one.name)}`"
          :aria-current="one.code === section.code ? 'step' : undefined"
          @click="open = one.code"
        >
          {{ place + 1 }}
        </button>
      </nav>
      <h2>{{ words.say(section.name) }}</h2>
      <TrialSection
        :key="`${version}-${section.code}`"
        :file="file"
        :section="section"
        @typed="
          (cell, content) => {
            typed[cell] = content
          }
        "
      />
    </template>
  </PhoneFrame>
</template>

<style scoped>
.empty {
  padding: 16px;
}
nav {
  display: flex;
  gap: 5px;
  padding: 8px 12px;
  overflow-x: auto;
}
nav button {
  flex: none;
  min-width: 40px;
  min-height: 40px;
  border: 1px solid var(--line);
  border-radius: 10px;
  background: var(--card);
  font: 600 14px var(--body);
  color: var(--ink-7);
  cursor: pointer;
}
nav button[aria-current] {
  background: var(--plum-7);
  color: var(--card);
}
h2 {
  padding: 4px 16px 8px;
}
</style>
