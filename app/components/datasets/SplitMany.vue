<script setup lang="ts">
import type { DraftWork } from '~/define/useDraft'

/** Gives many items the same breakdowns in one act: whole sections, or items one by one. */
const { work } = defineProps<{ work: DraftWork }>()
const visible = defineModel<boolean>('visible', { required: true })
const words = useWords()
const { t } = words
const chosen = ref<string[]>([])
const axes = ref<string[]>([])
const MOST_AXES = 2
const codesOf = (section: { items: { code: string }[] }) => section.items.map(({ code }) => code)
const isWhole = (section: { items: { code: string }[] }) =>
  codesOf(section).length > 0 && codesOf(section).every(code => chosen.value.includes(code))

function toggle(codes: readonly string[], on: boolean) {
  chosen.value = on
    ? [...new Set([...chosen.value, ...codes])]
    : chosen.value.filter(code => !codes.includes(code))
}
const isOn = (event: Event) => (event.target as HTMLInputElement).checked

function apply() {
  work.splitAll(chosen.value, axes.value)
  chosen.value = []
  visible.value = false
}
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="t('draft.splitMany')" :style="{ width: '620px' }">
    <div class="stack">
      <fieldset>
        <legend>{{ t('draft.splitBy') }}</legend>
        <label v-for="axis in work.draft.value!.axes" :key="axis.code"
          ><input
            v-model="axes"
            type="checkbox"
            :value="axis.code"
            :disabled="axes.length >= MOST_AXES && !axes.includes(axis.code)"
          />
          {{ words.say(axis.name) || axis.code }}</label
        >
      </fieldset>
      <fieldset v-for="section in work.draft.value!.sections" :key="section.code">
        <legend>
          <label class="whole"
            ><input
              type="checkbox"
              :checked="isWhole(section)"
              @change="toggle(codesOf(section), isOn($event))"
            />
            {{ words.say(section.name) || section.code }}</label
          >
        </legend>
        <label v-for="item in section.items" :key="item.code"
          ><input
            type="checkbox"
            :checked="chosen.includes(item.code)"
            @change="toggle([item.code], isOn($event))"
          />
          {{ words.say(item.name) || item.code }}</label
        >
      </fieldset>
    </div>
    <template #footer>
      <Button severity="secondary" text :label="t('act.cancel')" @click="visible = false" />
      <Button
        :label="t('draft.splitDo', { count: chosen.length }, chosen.length)"
        :disabled="!chosen.length"
        @click="apply"
      />
    </template>
  </Dialog>
</template>

<style scoped>
fieldset {
  border: 1px solid var(--line);
  border-radius: 8px;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(240px, 1fr));
  gap: 2px 14px;
  padding: 6px 12px 10px;
}
label {
  min-height: 28px;
  display: flex;
  align-items: center;
  gap: 8px;
}
.whole {
  font-weight: 600;
}
</style>
