<script setup lang="ts">
import type { ExtractMaker, ExtractMakers } from '#core/contract/extracts'

/** Chooses a person or a device of the branch by typing part of a name; each with its facility. */
const { inputId, label, kind } = defineProps<{
  inputId: string
  label: string
  kind: keyof ExtractMakers
}>()
const id = defineModel<string | undefined>({ required: true })
const { t } = useI18n()
const chosen = shallowRef<ExtractMaker | string | null>(null)
/** Many devices have one name: which it is, its facility says. */
const fullName = ({ name, unit }: ExtractMaker) => [name, unit].filter(Boolean).join(' · ')
const hits = shallowRef<ExtractMaker[]>([])
const { problem, run } = useAct()
const ask = (query: { find?: string; id?: string }, take: (found: ExtractMaker[]) => void) =>
  run(async () => {
    take((await callApi('GET /api/extract-makers', { query }))[kind])
  })
let latest = ''
const search = (find: string) => {
  latest = find
  return ask({ find }, found => {
    // An answer to what was typed before may come last.
    if (find === latest) hits.value = found
  })
}
// What a saved extract names is shown by its name; one of another branch has none here.
watch(
  id,
  async now => {
    if (!now) chosen.value = null
    else if (typeof chosen.value !== 'object' || chosen.value?.id !== now)
      await ask({ id: now }, ([found]) => {
        chosen.value = found ?? { id: now, name: t('extract.elsewhere'), unit: '' }
      })
  },
  { immediate: true },
)
watch(chosen, now => {
  if (now && typeof now === 'object') id.value = now.id
  else if (!now) id.value = undefined
})
</script>

<template>
  <div class="field">
    <label :for="inputId">{{ label }}</label>
    <AutoComplete
      v-model="chosen"
      :input-id="inputId"
      :suggestions="hits"
      :option-label="fullName"
      fluid
      force-selection
      :placeholder="t('extract.anybody')"
      @complete="search($event.query)"
    >
      <template #option="{ option }"
        ><span
          ><strong>{{ option.name }}</strong
          ><span class="small quiet path">{{ option.unit }}</span></span
        ></template
      >
    </AutoComplete>
    <ProblemNote :problem="problem" />
  </div>
</template>

<style scoped>
.path {
  display: block;
}
</style>
