<script setup lang="ts">
import { codeFromLabel } from '#core/form/code'
import type { CaseCount } from '#core/report/edition'
import type { DraftWork } from '~/define/useDraft'

/** The counts of cases that cells of a dataset are held against, beside the one that is worked on. */
const { work, chosen } = defineProps<{ work: DraftWork; chosen: string | null }>()
const emit = defineEmits<{ choose: [code: string | null] }>()
const { t, locale } = useI18n()
const all = computed({
  get: () => work.draft.value!.caseCounts ?? [],
  set: counts => {
    work.draft.value!.caseCounts = counts
  },
})
const registers = computed(() => work.file.value?.registers ?? [])
function add(name: string) {
  const code = codeFromLabel(
    name,
    all.value.map(one => one.code),
  )
  const [register] = registers.value
  const count: CaseCount = {
    code,
    name: { [locale.value]: name },
    register: register?.code ?? '',
    cells: [],
    place: 'care',
    date: register?.questions.find(({ type }) => type === 'day')?.code ?? '',
  }
  all.value = [...all.value, count]
  emit('choose', code)
}
</script>

<template>
  <p v-if="!registers.length" class="quiet">{{ t('caseCounts.noRegister') }}</p>
  <ListBeside
    v-else
    v-model:list="all"
    :chosen="chosen"
    :none="t('caseCounts.none')"
    :choose="t('caseCounts.choose')"
    @choose="emit('choose', $event)"
  >
    <template #default="{ at, remove }"
      ><CaseCountForm v-model="all[at]!" :work="work" @remove="remove"
    /></template>
    <template #add><AddByName :label="t('caseCounts.new')" @add="add" /></template>
  </ListBeside>
</template>
