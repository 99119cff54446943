<script setup lang="ts">
import { textOfBytes } from '#core/exchange/text'
import { checkOutline, type Outline } from '#core/geography/outline'
import { parseJson } from '#core/exchange/units-geojson'
import type { Problem } from '#core/result'

/** The outline of a unit on maps: taken from a GeoJSON file, or taken away. */
const { unit } = defineProps<{ unit: string }>()
const words = useWords()
const { t } = words
const { busy, problem, run } = useAct()
/** What is wrong with the file that was chosen. */
const wrong = shallowRef<Problem | null>(null)
const done = ref<'outlineSaved' | 'outlineGone' | null>(null)
watch(
  () => unit,
  () => {
    done.value = null
    wrong.value = null
  },
)
async function save(geometry: Outline | null) {
  done.value = null
  if (await run(() => callApi('PUT /api/units/:unit/outline', { params: { unit }, body: { geometry } })))
    done.value = geometry ? 'outlineSaved' : 'outlineGone'
}
async function choose(file: File) {
  const json = parseJson(textOfBytes(new Uint8Array(await file.arrayBuffer())))
  const outline = json.ok ? checkOutline(json.value) : json
  wrong.value = outline.ok ? null : outline.problems[0]!
  if (outline.ok) await save(outline.value)
}
</script>

<template>
  <section class="stack" aria-labelledby="unit-outline">
    <h3 id="unit-outline">{{ t('units.outline') }}</h3>
    <p class="small quiet">{{ t('units.outlineSay') }}</p>
    <div class="row">
      <FileButton
        input-id="outline-file"
        icon="pi-upload"
        :label="t('units.outlineFile')"
        accept=".json,.geojson,application/geo+json,application/json"
        :disabled="busy"
        @file="choose"
      />
      <Button
        size="small"
        severity="secondary"
        text
        :label="t('units.outlineRemove')"
        :disabled="busy"
        @click="save(null)"
      />
    </div>
    <p v-if="wrong" role="alert" class="wrong">{{ words.problem(wrong) }}</p>
    <p v-if="done" role="status">{{ t(`units.${done}`) }}</p>
    <ProblemNote :problem="problem" />
  </section>
</template>

<style scoped>
.wrong {
  color: var(--brick-7);
}
</style>
