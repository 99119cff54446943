<script setup lang="ts">
import { foldCases } from '#core/cases/fold'
import { FILES_HERE } from '~/device/useFilesHere'

/**
 * One case as the office reads it: its entries as they were filled, who filled them where, and their
 * pictures.
 */
const { id } = defineProps<{ id: string }>()
const words = useWords()
const { t } = words
const file = useLoad(
  () => callApi('GET /api/cases/:case', { params: { case: id } }),
  () => id,
)
provide(FILES_HERE, {
  store: () => Promise.resolve(),
  show: ({ hash }) => Promise.resolve(`/api/files/${hash}`),
})
const counted = computed(() => {
  const data = file.data.value
  if (!data) return []
  const all = new Map(data.entries.map(entry => [entry.id, entry]))
  const [folded] = foldCases(
    data.entries.map(entry => ({
      id: entry.id,
      case: data.id,
      form: entry.form,
      answers: entry.answers,
      happenedAt: Date.parse(entry.happenedOn),
      receivedAt: Date.parse(entry.receivedAt),
      ...(entry.corrects && { corrects: entry.corrects }),
    })),
  )
  return (folded?.entries ?? []).map(entry => ({
    ...all.get(entry.id)!,
    corrected: entry.corrected.length,
    rivals: entry.rivals.map(rival => all.get(rival.id)!),
  }))
})
/** The form of an entry, in the edition in which it was filled. */
const formOf = ({ edition, form }: { edition: number; form: string }) =>
  formIn(file.data.value!.editions.find(one => one.edition === edition)?.definition, form)
</script>

<template>
  <LoadState v-slot="{ data }" :load="file">
    <section v-for="entry in counted" :key="entry.id" class="card stack">
      <h2>{{ words.say(formOf(entry).name) }}</h2>
      <p class="small quiet">
        {{ t('cases.happened', { day: words.plainDay(entry.happenedOn) }) }} ·
        {{
          t('cases.receivedFrom', {
            at: words.moment(entry.receivedAt),
            by: entry.by,
            device: entry.device ?? data.unit.name,
          })
        }}<template v-if="entry.corrected"> · {{ t('cases.corrected') }}</template>
      </p>
      <EntryAnswers :form="formOf(entry)" :answers="entry.answers" />
      <div v-for="rival in entry.rivals" :key="rival.id" class="rival stack">
        <p>
          <strong>{{ t('cases.rival') }}</strong>{{ ' ' }}
          <span class="small quiet">{{
            t('cases.receivedFrom', {
              at: words.moment(rival.receivedAt),
              by: rival.by,
              device: rival.device ?? data.unit.name,
            })
          }}</span>
        </p>
        <EntryAnswers :form="formOf(rival)" :answers="rival.answers" />
        <p class="small quiet">{{ t('cases.decideAtDesk') }}</p>
      </div>
    </section>
  </LoadState>
</template>

<style scoped>
.card {
  margin-bottom: 12px;
}
.rival {
  padding: 10px 12px;
  border-left: 4px solid var(--amber-5);
  background: var(--amber-0);
  border-radius: 8px;
}
</style>
