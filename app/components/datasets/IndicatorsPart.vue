<script setup lang="ts">
import { codeFromLabel } from '#core/form/code'
import type { DraftWork } from '~/define/useDraft'

/** The indicators of a dataset beside the one that is worked on. */
const { work, dataset, chosen } = defineProps<{ work: DraftWork; dataset: string; chosen: string | null }>()
const emit = defineEmits<{ choose: [code: string | null] }>()
const { t, locale } = useI18n()
const all = computed(() => work.draft.value!.indicators)
function add(name: string) {
  const code = codeFromLabel(
    name,
    all.value.map(one => one.code),
  )
  all.value.push({
    code,
    name: { [locale.value]: name },
    numerator: '',
    denominator: '',
    factor: 100,
    unitOfMeasure: { en: '%', fr: '%' },
  })
  emit('choose', code)
}
</script>

<template>
  <ListBeside
    :list="all"
    :chosen="chosen"
    :none="t('indicators.none')"
    :choose="t('indicators.choose')"
    @choose="emit('choose', $event)"
  >
    <template #default="{ at, remove }"
      ><IndicatorForm v-model="all[at]!" :work="work" :dataset="dataset" @remove="remove"
    /></template>
    <template #add><AddByName :label="t('indicators.new')" @add="add" /></template>
  </ListBeside>
</template>
