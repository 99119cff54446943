<script setup lang="ts">
import type { Narrowing } from '#core/expression/bind'
import { compile } from '#core/expression/compile'
import { inWords } from '#core/expression/in-words'
import type { ValueType, Vocabulary } from '#core/expression/vocabulary'
import { useExpressionEditor } from '~/define/useExpressionEditor'

/**
 * An expression: typed with help, or put together from parts; then what it means, or what is wrong with it.
 */
const {
  inputId,
  label,
  vocabulary,
  offered,
  wanted,
  narrowing,
  parts = false,
} = defineProps<{
  inputId: string
  label: string
  vocabulary: Vocabulary
  /** What is offered of it while typing, where that is less. */
  offered?: Vocabulary
  wanted?: ValueType
  /** For a rule that goes over an axis: it is read for this band. */
  narrowing?: Narrowing
  /** Offers to put a condition together from parts. */
  parts?: boolean
}>()
const text = defineModel<string>({ required: true })
const words = useWords()
const { t, locale } = words
const host = useTemplateRef('host')
const building = ref(false)
const editor = useExpressionEditor({
  vocabulary: () => vocabulary,
  offered: () => offered ?? vocabulary,
  wanted: () => wanted,
  narrowing: () => narrowing,
  language: () => locale.value,
  says: problem => words.problem(problem),
  onChange: next => {
    text.value = next
  },
  attributes: {
    id: inputId,
    'aria-labelledby': `${inputId}-label`,
    'aria-describedby': `${inputId}-says`,
    role: 'textbox',
    'aria-multiline': 'true',
  },
})
onMounted(() => editor.mount(host.value!, text.value))
onBeforeUnmount(editor.destroy)
watch(text, next => editor.put(next))
const compiled = computed(() =>
  text.value.trim() ? compile(text.value, vocabulary, wanted, narrowing) : null,
)
</script>

<template>
  <div class="field">
    <span :id="`${inputId}-label`" class="label">{{ label }}</span>
    <div ref="host" class="host" />
    <div :id="`${inputId}-says`" class="says small" aria-live="polite">
      <p v-if="compiled?.ok" class="quiet">{{ inWords(compiled.value, locale) }}</p>
      <template v-else-if="compiled"
        ><p v-for="(problem, at) in compiled.problems" :key="at" class="wrong">
          {{ words.problem(problem) }}
        </p></template
      >
    </div>
    <template v-if="parts">
      <button type="button" class="textual small" :aria-expanded="building" @click="building = !building">
        {{ t('ask.fromParts') }}
      </button>
      <ConditionParts
        v-if="building"
        :input-id="`${inputId}-parts`"
        :vocabulary="offered ?? vocabulary"
        :joins="Boolean(text.trim())"
        @add="editor.append($event)"
      />
    </template>
    <slot />
  </div>
</template>

<style scoped>
.host :deep(.cm-editor) {
  border: 1px solid color-mix(in srgb, var(--ink-5) 55%, var(--card));
  border-radius: 8px;
  background: var(--card);
  font-size: 15px;
}
.host :deep(.cm-editor.cm-focused) {
  outline: 2px solid var(--plum-5);
  outline-offset: 0;
}
.host :deep(.cm-content) {
  font-family: ui-monospace, monospace;
  padding: 7px 4px;
  caret-color: var(--ink-9);
  color: var(--ink-9);
}
.host :deep(.cm-cursor) {
  border-left-color: var(--ink-9);
}
.host :deep(.cm-tooltip) {
  background: var(--card);
  border: 1px solid var(--line);
  border-radius: 8px;
  color: var(--ink-9);
}
.host :deep(.cm-tooltip-autocomplete ul li[aria-selected]) {
  background: var(--plum-1);
  color: var(--ink-9);
}
.host :deep(.cm-completionDetail) {
  font-style: normal;
  color: var(--ink-5);
  font-family: var(--body);
}
.host :deep(.cm-diagnostic-error) {
  border-left-color: var(--brick-7);
}
.says {
  min-height: 19px;
}
.wrong {
  color: var(--brick-7);
}
</style>
