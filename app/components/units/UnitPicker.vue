<script setup lang="ts">
import type { UnitLine } from '#core/contract/units'
import type { Units } from '~/units/useUnits'

/** Chooses a unit by typing part of its name; each hit with its path. */
const {
  units,
  inputId,
  needed = false,
} = defineProps<{
  units: Units
  inputId: string
  /** What is chosen can be changed, not taken away. */ needed?: boolean
}>()
const code = defineModel<string | null>({ required: true })
const text = shallowRef<UnitLine | string | null>(
  code.value ? (units.byCode.value.get(code.value) ?? null) : null,
)
const hits = shallowRef<UnitLine[]>([])
const search = (query: string) => {
  hits.value = units.find(query).units.filter(({ open }) => open)
}
watch(text, value => {
  if (value && typeof value === 'object') code.value = value.code
  else if (!needed) code.value = null
})
// The tree may arrive after this field.
watch(
  () => (code.value ? units.byCode.value.get(code.value) : undefined),
  unit => {
    if (unit && text.value === null) text.value = unit
  },
)
</script>

<template>
  <AutoComplete
    v-model="text"
    :input-id="inputId"
    :suggestions="hits"
    option-label="name"
    fluid
    force-selection
    @complete="search($event.query)"
  >
    <template #option="{ option }"
      ><span
        ><strong>{{ option.name }}</strong
        ><span class="small quiet path">{{ units.pathText(option.code) }}</span></span
      ></template
    >
  </AutoComplete>
</template>

<style scoped>
.path {
  display: block;
}
</style>
