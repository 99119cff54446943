<script setup lang="ts">
import type { CompiledForm } from '#core/form/compile-form'
import type { FormPart } from '#core/form/question'
import type { FillingWork } from '~/cases/useFilling'

/** A form being filled: its parts in order, and what an answer would clear before it does. */
const { compiled, work } = defineProps<{ compiled: CompiledForm; work: FillingWork }>()
const words = useWords()
const { t } = words
/** Names of the questions that would be cleared, each once. */
const lost = computed(() =>
  [
    ...new Set((work.pending.value?.cleared ?? []).map(({ key }) => key.split('/').at(-1)!.split('.')[0]!)),
  ].map(code =>
    words.say(
      compiled.outline.placed.find(({ question }) => question.code === code)?.question.label ?? { en: code },
    ),
  ),
)
const parts = computed(() => compiled.form.parts as readonly FormPart[])
</script>

<template>
  <div class="form">
    <FormParts :parts="parts" :compiled="compiled" :work="work" />
    <div v-if="work.pending.value" class="ask" role="alertdialog" :aria-label="t('filling.clears')">
      <p>
        <strong>{{ t('filling.clears') }}</strong> {{ lost.join(', ') }}
      </p>
      <div class="row">
        <Button :label="t('filling.clear')" @click="work.confirm()" /><Button
          severity="secondary"
          outlined
          :label="t('filling.leave')"
          @click="work.leave()"
        />
      </div>
    </div>
    <div v-else-if="work.before.value" class="ask" role="status">
      <Button size="small" icon="pi pi-undo" :label="t('filling.bringBack')" @click="work.bringBack()" />
    </div>
  </div>
</template>

<style scoped>
.form {
  container-type: inline-size;
  padding-bottom: 20px;
}
.ask {
  position: sticky;
  bottom: 0;
  z-index: 3;
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 12px 16px;
  background: var(--amber-1);
  border-top: 1px solid var(--line);
}
.ask :deep(button) {
  min-height: 44px;
}
</style>
