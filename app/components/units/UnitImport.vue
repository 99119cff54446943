<script setup lang="ts">
import type { UnitFormat } from '#core/contract/units'
import type { ColumnMatch, UnitHeadings } from '#core/exchange/unit-columns'
import { textOfBytes } from '#core/exchange/text'

/** Units from a file: chosen, looked at line by line, then applied in one act. */
const { today } = defineProps<{ today: string }>()
const emit = defineEmits<{ applied: []; cancel: [] }>()
const { t } = useI18n()
const plan = useUnitPlan(() => emit('applied'))
const { busy, problem, preview, changing } = plan
const day = ref(today)
const chosen = shallowRef<{ format: UnitFormat; text: string; columns?: UnitHeadings } | null>(null)
/** The columns of the file as they were matched last: they stay while a preview is made anew. */
const match = shallowRef<ColumnMatch | null>(null)

/** By its content, because endings lie: JSON of a bundle, other JSON, else CSV. */
const formatOf = (text: string): UnitFormat =>
  !/^\s*[{[]/.test(text) ? 'csv' : /"resourceType"\s*:/.test(text) ? 'fhir' : 'geojson'

/** The name of the chosen file. */
const name = ref('')
async function choose(file: File) {
  name.value = file.name
  const text = textOfBytes(new Uint8Array(await file.arrayBuffer()))
  match.value = null
  chosen.value = { format: formatOf(text), text }
}
async function look() {
  if (chosen.value && (await plan.look({ day: day.value, file: chosen.value })))
    match.value = preview.value?.columns ?? null
}
watch([chosen, day], () => void look())
const missing = computed(() => preview.value?.columns?.missing ?? [])
</script>

<template>
  <section class="card stack">
    <h2>{{ t('units.import') }}</h2>
    <p class="quiet">{{ t('units.fileHint') }}</p>
    <div class="row">
      <div class="field">
        <span class="label">{{ t('units.file') }}</span>
        <FileButton
          input-id="unit-file"
          icon="pi-upload"
          :label="name || t('bundle.choose')"
          accept=".csv,.txt,.json,.geojson,text/csv,application/json"
          @file="choose"
        />
      </div>
      <div class="field">
        <label for="unit-from">{{ t('units.day') }}</label><DayField
          v-model="day"
          input-id="unit-from"
          required
        />
      </div>
    </div>
    <p v-if="busy" role="status" class="quiet">{{ t('units.fileReading') }}</p>
    <ProblemNote :problem="problem" />
    <UnitColumns
      v-if="match"
      :match="match"
      @match="
        columns => {
          if (chosen) chosen = { ...chosen, columns }
        }
      "
    />
    <p v-if="missing.length" role="alert" class="missing">
      {{
        t('units.columnsMissing', { columns: missing.map(column => t(`units.column.${column}`)).join(', ') })
      }}
    </p>
    <UnitPlanTable v-else-if="preview" :preview="preview" />
    <div class="row">
      <Button
        v-if="preview && !missing.length"
        :label="t('units.applyCount', { count: changing }, changing)"
        :disabled="!changing"
        :loading="busy"
        @click="plan.apply()"
      />
      <Button severity="secondary" text :label="t('act.cancel')" @click="emit('cancel')" />
      <span v-if="preview && !missing.length && !changing" class="quiet">{{ t('units.nothing') }}</span>
    </div>
  </section>
</template>

<style scoped>
.row {
  align-items: flex-end;
  gap: 20px;
}
.missing {
  color: var(--brick-7);
  font-weight: 600;
}
.field {
  display: flex;
  flex-direction: column;
  gap: 3px;
}
.field label {
  font-size: 14px;
  font-weight: 600;
  color: var(--ink-7);
}
input[type='file'] {
  font: inherit;
  color: var(--ink-7);
}
</style>
