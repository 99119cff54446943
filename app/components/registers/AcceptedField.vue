<script setup lang="ts">
import type { PartNames } from '#core/define/part-vocabulary'
import type { FormPart } from '#core/form/question'

/** What an answer must fulfil, each with the sentence that is said when it does not. */
const { part, where } = defineProps<{ part: FormPart; where: PartNames }>()
const { t } = useI18n()
const own = computed(() => part as { acceptedIf?: { expression: string; message: Record<string, string> }[] })
const add = () => {
  own.value.acceptedIf = [...(own.value.acceptedIf ?? []), { expression: '', message: {} }]
}
function remove(at: number) {
  own.value.acceptedIf!.splice(at, 1)
  if (!own.value.acceptedIf!.length) delete own.value.acceptedIf
}
</script>

<template>
  <fieldset v-for="(one, at) in own.acceptedIf ?? []" :key="at" class="plain accepted">
    <legend>{{ t('question.accepted', { number: at + 1 }) }}</legend>
    <ExpressionField
      v-model="one.expression"
      :input-id="`accepted-${at}`"
      :label="t('define.mustHold')"
      :vocabulary="where.vocabulary"
      :narrowing="where.narrowing"
      wanted="truth"
      parts
    />
    <WordsField
      v-model="one.message"
      :input-id="`message-${at}`"
      :label="t('question.message')"
      :most="1000"
    />
    <button type="button" class="textual small" @click="remove(at)">
      {{ t('question.without', { what: t('question.accepted', { number: at + 1 }) }) }}
    </button>
  </fieldset>
  <div><Button size="small" text icon="pi pi-plus" :label="t('question.addAccepted')" @click="add" /></div>
</template>

<style scoped>
.accepted {
  padding: 8px 10px;
  border-radius: 8px;
  background: var(--sand);
}
</style>
