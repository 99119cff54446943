<script setup lang="ts">
import type { CompiledForm } from '#core/form/compile-form'
import type { FormPart } from '#core/form/question'
import type { FillingWork } from '~/cases/useFilling'

/** A form being filled: its parts in order, and what an answer would clear before it does. */
const { compiled, work } = defineProps<{ compiled: CompiledForm; work: FillingWork }>()
const words = useWords()
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
    <ClearsAsk
      :lost="work.pending.value ? lost : null"
      :can-bring-back="Boolean(work.before.value)"
      @confirm="work.confirm()"
      @leave="work.leave()"
      @bring-back="work.bringBack()"
    />
  </div>
</template>

<style scoped>
.form {
  container-type: inline-size;
  padding-bottom: 20px;
}
</style>
