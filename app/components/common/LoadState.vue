<script setup lang="ts" generic="T">
import type { Load } from '~/common/useLoad'

/** The states that every list and page has: loading, a problem, nothing there, else what there is. */
const {
  load,
  empty = false,
  emptyText = '',
} = defineProps<{ load: Load<T>; empty?: boolean; emptyText?: string }>()
const words = useWords()
const { t } = words
const data = computed(() => load.data.value)
const problem = computed(() => load.problem.value)
</script>

<template>
  <div v-if="problem && !data" class="state" role="alert">
    <i :class="problem.status === 403 ? 'pi pi-lock' : 'pi pi-exclamation-triangle'" aria-hidden="true" />
    <p>{{ words.problem(problem) }}</p>
    <Button
      v-if="problem.status !== 403 && problem.status !== 404"
      :label="t('act.tryAgain')"
      severity="secondary"
      outlined
      @click="load.reload()"
    />
  </div>
  <div v-else-if="!data" class="waiting" role="status" :aria-label="t('load.loading')">
    <Skeleton v-for="line in 6" :key="line" height="34px" />
  </div>
  <div v-else-if="empty" class="state" role="status">
    <LanternSign sign="awaited" :size="34" />
    <p>{{ emptyText }}</p>
  </div>
  <slot v-else :data="data" />
</template>

<style scoped>
.state {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 12px;
  padding: 48px 16px;
  text-align: center;
  color: var(--ink-7);
}
.state i {
  font-size: 26px;
  color: var(--brick-7);
}
.waiting {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 12px 0;
}
</style>
