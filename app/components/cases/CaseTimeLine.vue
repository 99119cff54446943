<script setup lang="ts">
import type { CountedEntry } from '#core/cases/fold'
import type { Form } from '#core/form/question'
import type { CaseEntry } from '~/cases/useCaseFile'

/**
 * The entries of a case in the order in which they happened, each as it was filled: who filled it where, what
 * it corrected, and where two people corrected it in two ways.
 */
const { register, entries, byId, formOf, facility } = defineProps<{
  register: string
  entries: readonly CountedEntry[]
  byId: ReadonlyMap<string, CaseEntry>
  formOf: (entry: CaseEntry) => Form
  facility: string
}>()
const words = useWords()
const { t } = words
const shown = computed(() =>
  entries.map(({ id, corrected, rivals }) => ({
    entry: byId.get(id)!,
    corrected: corrected.map(of => byId.get(of)!),
    rivals: rivals.map(rival => byId.get(rival.id)!),
  })),
)
const fromWhom = (entry: CaseEntry) =>
  entry.paperOn
    ? t('paperEntry.from', {
        at: words.moment(entry.receivedAt),
        by: entry.by,
        day: words.plainDay(entry.paperOn),
      })
    : t('cases.receivedFrom', {
        at: words.moment(entry.receivedAt),
        by: entry.by,
        device: entry.device ?? facility,
      })
const session = useSession()
</script>

<template>
  <ol class="plain-list line">
    <li v-for="{ entry, corrected, rivals } in shown" :id="`entry-${entry.id}`" :key="entry.id" tabindex="-1">
      <p class="day">
        <strong>{{ words.plainDay(entry.happenedOn) }}</strong> {{ words.say(formOf(entry).name) }}
        <WordTag v-if="corrected.length">{{ t('cases.corrected') }}</WordTag>
      </p>
      <p class="small quiet">
        {{ fromWhom(entry) }}
        <NuxtLink
          v-if="session.can('enterPaper')"
          class="no-print"
          :to="{
            path: '/cases/fill',
            query: { register, case: entry.case, form: entry.form, corrects: entry.id },
          }"
          :aria-label="`${t('paperEntry.correct')}: ${words.say(formOf(entry).name)}`"
          >{{ t('paperEntry.correct') }}</NuxtLink
        >
      </p>
      <details open>
        <summary>{{ t('caseFile.showEntry') }}</summary>
        <EntryAnswers :form="formOf(entry)" :answers="entry.answers" />
      </details>
      <details v-for="before in corrected" :key="before.id">
        <summary>{{ t('caseFile.correctedEntry') }} · {{ fromWhom(before) }}</summary>
        <EntryAnswers :form="formOf(before)" :answers="before.answers" />
      </details>
      <div v-for="rival in rivals" :key="rival.id" class="rival stack">
        <p>
          <strong>{{ t('cases.rival') }}</strong>{{ ' ' }}
          <span class="small quiet">{{ fromWhom(rival) }}</span>
        </p>
        <EntryAnswers :form="formOf(rival)" :answers="rival.answers" />
        <p class="small quiet">{{ t('cases.decideAtDesk') }}</p>
      </div>
    </li>
  </ol>
</template>

<style scoped>
@media print {
  .no-print {
    display: none;
  }
}
.line {
  border-left: 2px solid var(--line);
  padding-left: 18px;
  display: flex;
  flex-direction: column;
  gap: 18px;
}
li {
  position: relative;
}
li::before {
  content: '';
  position: absolute;
  left: -25px;
  top: 5px;
  width: 10px;
  height: 10px;
  border-radius: 50%;
  border: 2px solid var(--plum-7);
  background: var(--card);
}
p {
  margin: 0;
}
summary {
  cursor: pointer;
  color: var(--plum-7);
  padding: 4px 0;
}
.rival {
  margin-top: 8px;
  padding: 10px 12px;
  border-left: 4px solid var(--amber-5);
  background: var(--amber-0);
  border-radius: 8px;
}
</style>
