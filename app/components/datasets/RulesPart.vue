<script setup lang="ts">
import { codeFromLabel } from '#core/form/code'
import { newRule } from '~/define/newRule'
import type { DraftWork } from '~/define/useDraft'
import type { Units } from '~/units/useUnits'

/** The rules of a dataset beside the one that is worked on. */
const { work, units, dataset, chosen } = defineProps<{
  work: DraftWork
  units: Units
  dataset: string
  chosen: string | null
}>()
const emit = defineEmits<{ choose: [code: string | null] }>()
const { t, locale } = useI18n()
const starting = ref(false)
const rules = computed(() => work.draft.value!.rules)
const freeCode = (label: string) =>
  codeFromLabel(
    label,
    rules.value.map(({ code }) => code),
  )

function add() {
  const rule = newRule(rules.value, { [locale.value]: t('rules.new') })
  rules.value.push(rule)
  emit('choose', rule.code)
}
function started(code: string) {
  starting.value = false
  emit('choose', code)
}
</script>

<template>
  <ListBeside
    :list="rules"
    :chosen="chosen"
    :none="t('rules.none')"
    :choose="t('rules.choose')"
    @choose="emit('choose', $event)"
  >
    <template #default="{ at, remove }"
      ><RuleForm v-model="rules[at]!" :work="work" :units="units" :dataset="dataset" @remove="remove"
    /></template>
    <template #mark="{ one }"><StrengthTag :strength="one.strength" /></template>
    <template #add>
      <div class="row">
        <Button
          size="small"
          icon="pi pi-plus"
          :label="t('rules.start')"
          :disabled="!work.items.value.length"
          @click="starting = true"
        />
        <Button size="small" text :label="t('rules.empty')" @click="add" />
      </div>
    </template>
  </ListBeside>
  <RuleStarts v-model:visible="starting" :work="work" :free-code="freeCode" @started="started" />
</template>
