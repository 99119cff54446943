<script setup lang="ts">
import type { ApiProblem } from '~/common/useApi'

/** The end of a form: what was refused, the button that sends it, and the way out. */
const {
  problem,
  label,
  busy,
  disabled = false,
} = defineProps<{ problem: ApiProblem | null; label: string; busy: boolean; disabled?: boolean }>()
const emit = defineEmits<{ cancel: [] }>()
const { t } = useI18n()
</script>

<template>
  <ProblemNote :problem="problem" />
  <div class="row">
    <Button type="submit" :label="label" :loading="busy" :disabled="disabled" /><Button
      severity="secondary"
      text
      :label="t('act.cancel')"
      @click="emit('cancel')"
    />
  </div>
</template>
