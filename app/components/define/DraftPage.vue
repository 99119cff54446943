<script setup lang="ts">
import type { DraftAutosave } from '~/define/useDraftAutosave'
import type { Load } from '~/common/useLoad'
import type { ToldDifference } from './DifferenceList.vue'

/**
 * The page of a definition that somebody works on, a dataset or a register: its name and save state, what stands
 * in the way of saving, and its parts below.
 */
const { kind, code, title, load, autosave, changes, copy } = defineProps<{
  kind: 'dataset' | 'register'
  code: string
  title: string
  load: Load<unknown>
  autosave: DraftAutosave
  /** What somebody else changed, when they were quicker. */
  changes: ToldDifference[]
  /** Saves what I did as a definition of its own, when somebody else's change is to stand. */
  copy: () => Promise<void>
}>()
/** The number of the edition that was published just now. */
const published = defineModel<number>('published', { required: true })
const { t } = useI18n()
const router = useRouter()
const { problem: copyProblem, run } = useAct()
</script>

<template>
  <div class="page">
    <LoadState :load="load">
      <PageHead :title="title || code">
        <span class="quiet small save-state" role="status">{{
          t(`draft.state.${autosave.state.value}`)
        }}</span>
        <template #acts>
          <slot name="acts" />
          <Button
            severity="secondary"
            outlined
            icon="pi pi-print"
            :label="t('paper.onPaper')"
            @click="router.push(`/define/paper/${kind}/${code}`)"
          />
        </template>
      </PageHead>
      <Message v-if="published" severity="success" closable @close="published = 0"
        >{{ t('draft.published', { number: published }) }}
        <NuxtLink v-if="kind === 'dataset'" to="/gather">{{ t('place.gather') }}</NuxtLink></Message
      >
      <Message v-if="autosave.file.value && !autosave.file.value.mine" severity="warn" :closable="false">{{
        t('draft.notMine')
      }}</Message>
      <DraftConflict :autosave="autosave" :changes="changes" @copy="run(copy)" />
      <ProblemNote :problem="copyProblem" />
      <slot />
    </LoadState>
  </div>
</template>
