<script setup lang="ts">
import type { ApiProblem } from '~/common/useApi'

/**
 * Asks before something that cannot simply be taken back: what it means, a refusal if there was one, the act.
 */
const {
  title,
  act,
  busy = false,
  problem = null,
  disabled = false,
} = defineProps<{
  title: string
  act: string
  busy?: boolean
  problem?: ApiProblem | null
  /** Something is missing before it can be done. */
  disabled?: boolean
}>()
const visible = defineModel<boolean>('visible', { required: true })
const emit = defineEmits<{ go: [] }>()
const { t } = useI18n()
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="title" :style="{ width: '460px' }">
    <slot />
    <ProblemNote :problem="problem" class="refused" />
    <template #footer>
      <Button severity="secondary" text :label="t('act.cancel')" @click="visible = false" />
      <Button :label="act" :loading="busy" :disabled="disabled" autofocus @click="emit('go')" />
    </template>
  </Dialog>
</template>

<style scoped>
.refused {
  margin-top: 12px;
}
</style>
