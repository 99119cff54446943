<script setup lang="ts">
import type { UnitLine } from '#core/contract/units'
import type { Units } from '~/composables/useUnits'

/** Chooses a unit by typing part of its name; each hit with its path. */
const { units, inputId } = defineProps<{ units: Units; inputId: string }>()
const code = defineModel<string | null>({ required: true })
const text = shallowRef<UnitLine | string | null>(code.value ? units.byCode.value.get(code.value) ?? null : null)
const hits = shallowRef<UnitLine[]>([])
const search = (query: string) => { hits.value = units.find(query).units.filter(({ open }) => open) }
watch(text, (value) => { code.value = value && typeof value === 'object' ? value.code : null })
</script>

<template>
  <AutoComplete v-model="text" :input-id="inputId" :suggestions="hits" option-label="name" fluid force-selection @complete="search($event.query)">
    <template #option="{ option }"><span><strong>{{ option.name }}</strong><span class="small quiet path">{{ units.pathText(option.code) }}</span></span></template>
  </AutoComplete>
</template>

<style scoped>
.path { display: block; }
</style>
