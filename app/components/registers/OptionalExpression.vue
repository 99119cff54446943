<script setup lang="ts">
import type { PartNames } from '#core/define/part-vocabulary'
import type { ValueType } from '#core/expression/vocabulary'

/** An optional expression: a button adds the field. */
const {
  inputId,
  label,
  add,
  where,
  wanted,
  parts = false,
} = defineProps<{
  inputId: string
  label: string
  add: string
  where: PartNames
  wanted?: ValueType
  parts?: boolean
}>()
const text = defineModel<string | undefined>()
const { t } = useI18n()
const written = computed<string>({
  get: () => text.value ?? '',
  set: next => {
    text.value = next
  },
})
</script>

<template>
  <ExpressionField
    v-if="text !== undefined"
    v-model="written"
    :input-id="inputId"
    :label="label"
    :vocabulary="where.vocabulary"
    :narrowing="where.narrowing"
    :wanted="wanted"
    :parts="parts"
  >
    <button type="button" class="textual small" @click="text = undefined">
      {{ t('question.without', { what: label }) }}
    </button>
  </ExpressionField>
  <div v-else><Button size="small" text icon="pi pi-plus" :label="add" @click="text = ''" /></div>
</template>
