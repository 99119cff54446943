<script setup lang="ts">
import type { useExtractFile } from '~/extracts/useExtractFile'

/** A file that was just asked for: how far it is, then where to get it. */
const { making } = defineProps<{ making: ReturnType<typeof useExtractFile> }>()
const words = useWords()
const { t } = words
const file = computed(() => making.file.value)
const problem = computed(() => making.problem.value)
</script>

<template>
  <div v-if="file || problem" class="card row" role="status">
    <template v-if="file?.state === 'waiting'">
      <ProgressBar mode="indeterminate" class="bar" :aria-label="t('extract.making')" />
      <span>{{ t('extract.far', { count: words.number(file.rows) }) }}</span>
      <Button size="small" severity="secondary" text :label="t('act.stop')" @click="making.stop()" />
    </template>
    <template v-else-if="file?.state === 'ready'">
      <WordTag tone="moss">{{ t('extract.state.ready') }}</WordTag>
      <strong>{{ file.name }}</strong>
      <span>{{ t('extract.rowCount', { count: words.number(file.rows) }, file.rows) }}</span>
      <a :href="extractFileLink(file.id)" download>{{
        t('extract.downloadSize', { size: words.bytes(file.bytes) })
      }}</a>
    </template>
    <template v-else-if="file">
      <WordTag :tone="file.state === 'failed' ? 'brick' : 'plain'">{{
        t(`extract.state.${file.state}`)
      }}</WordTag>
      <span v-if="file.problem">{{ words.problem({ code: file.problem, message: file.problem }) }}</span>
    </template>
    <ProblemNote :problem="problem" />
  </div>
</template>

<style scoped>
.bar {
  width: 160px;
  height: 8px;
}
</style>
