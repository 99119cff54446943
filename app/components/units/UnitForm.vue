<script setup lang="ts">
import type { UnitFile, UnitSource } from '#core/contract/units'
import { fold } from '#core/form/code'
import { LONGEST_UNIT_CODE } from '#core/geography/unit-code'
import type { UnitFields } from '#core/geography/unit-row'
import type { Units } from '~/units/useUnits'

/**
 * One act on one unit, from a day on: add, rename, move, close, open again, set its position. Shows first
 * what it does.
 */
export type UnitAct = 'add' | 'rename' | 'move' | 'close' | 'reopen' | 'position'

const {
  act,
  units,
  file = null,
  today,
} = defineProps<{ act: UnitAct; units: Units; file?: UnitFile | null; today: string }>()
const emit = defineEmits<{ applied: []; cancel: [] }>()
const { t } = useI18n()
const plan = useUnitPlan(() => emit('applied'))
const { busy, problem, preview, changing } = plan
const now = file?.unit
const day = ref(today)
const name = ref(act === 'add' ? '' : (now?.name ?? ''))
const code = ref('')
const kind = ref(act === 'add' ? '' : (now?.kind ?? ''))
const parent = ref<string | null>(act === 'add' ? (now?.code ?? null) : (now?.parent ?? null))
const latitude = ref(act === 'position' && now?.latitude !== null ? String(now?.latitude ?? '') : '')
const longitude = ref(act === 'position' && now?.longitude !== null ? String(now?.longitude ?? '') : '')
const kinds = computed(() => [...new Set([...units.byCode.value.values()].map(unit => unit.kind))].sort())
const kindTyped = ref('')
const kindsLike = computed(() => kinds.value.filter(one => fold(one).includes(fold(kindTyped.value))))
const asks = (...of: UnitAct[]) => of.includes(act)

const source = (): UnitSource => {
  const text = (value: unknown) =>
    value === null || value === undefined || value === '' ? {} : { value: String(value) }
  const row: UnitFields = {
    code: act === 'add' ? code.value.trim() : now!.code,
    name: name.value.trim(),
    parent: parent.value ?? '',
    kind: kind.value.trim(),
  }
  if (act === 'close') row.closed = day.value
  if (act === 'add') row.opened = day.value
  if (act === 'add' || act === 'position')
    Object.assign(row, { latitude: text(latitude.value).value, longitude: text(longitude.value).value })
  return {
    day: act === 'close' && day.value > today ? today : day.value,
    rows: [Object.fromEntries(Object.entries(row).filter(([, value]) => value))],
  }
}
watch([day, name, code, kind, parent, latitude, longitude], plan.forget)
</script>

<template>
  <form class="card stack form" @submit.prevent="preview && changing ? plan.apply() : plan.look(source())">
    <h2>{{ act === 'position' ? t('units.position_act') : t(`units.${act}`) }}</h2>
    <div v-if="asks('add', 'rename')" class="field">
      <label for="unit-name">{{ t('units.name') }}</label><InputText
        id="unit-name"
        v-model="name"
        autofocus
        maxlength="120"
      />
    </div>
    <div v-if="asks('add')" class="field">
      <label for="unit-code">{{ t('units.code') }}</label><InputText
        id="unit-code"
        v-model="code"
        :maxlength="LONGEST_UNIT_CODE"
      />
    </div>
    <div v-if="asks('add', 'move', 'reopen')" class="field">
      <label for="unit-parent">{{ t('units.parent') }}</label><UnitPicker
        v-model="parent"
        input-id="unit-parent"
        :units="units"
      />
    </div>
    <div v-if="asks('add', 'rename')" class="field">
      <label for="unit-kind">{{ t('units.kind') }}</label><AutoComplete
        v-model="kind"
        input-id="unit-kind"
        :suggestions="kindsLike"
        complete-on-focus
        :maxlength="60"
        @complete="({ query }) => (kindTyped = query)"
      />
    </div>
    <div v-if="asks('add', 'position')" class="row">
      <div class="field">
        <label for="unit-latitude">{{ t('units.latitude') }}</label><InputText
          id="unit-latitude"
          v-model="latitude"
          inputmode="decimal"
        />
      </div>
      <div class="field">
        <label for="unit-longitude">{{ t('units.longitude') }}</label><InputText
          id="unit-longitude"
          v-model="longitude"
          inputmode="decimal"
        />
      </div>
    </div>
    <div class="field">
      <label for="unit-day">{{ act === 'close' ? t('units.closeDay') : t('units.day') }}</label><DayField
        v-model="day"
        input-id="unit-day"
        required
      />
    </div>
    <ProblemNote :problem="problem" />
    <UnitPlanTable v-if="preview" :preview="preview" />
    <p v-if="preview && !changing" class="quiet">{{ t('units.nothing') }}</p>
    <div class="row">
      <Button
        type="submit"
        :label="preview && changing ? t('units.apply') : t('units.preview')"
        :loading="busy"
        :disabled="Boolean(preview) && !changing"
      />
      <Button severity="secondary" text :label="t('act.cancel')" @click="emit('cancel')" />
    </div>
  </form>
</template>

<style scoped>
.form {
  max-width: 760px;
}
.field {
  display: flex;
  flex-direction: column;
  gap: 3px;
  max-width: 460px;
}
.field label {
  font-size: 14px;
  font-weight: 600;
  color: var(--ink-7);
}
</style>
