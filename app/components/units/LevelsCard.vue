<script setup lang="ts">
import type { UnitList } from '#core/contract/units'
import { LANGUAGES } from '#core/languages'

/** What the levels of the tree are called, which of them signs and which reports. */
const { list } = defineProps<{ list: UnitList }>()
const emit = defineEmits<{ saved: [] }>()
const words = useWords()
const { t } = words
const levels = ref(JSON.parse(JSON.stringify(list.levels)) as UnitList['levels'])
const districtLevel = ref(list.districtLevel)
const facilityLevel = ref(list.facilityLevel)
const saved = ref(false)
const { busy, problem, run } = useAct()
const options = computed(() =>
  levels.value.map((level, at) => ({ value: at + 1, label: words.say(level) || String(at + 1) })),
)
async function save() {
  saved.value = await run(() =>
    callApi('PUT /api/levels', {
      body: { levels: levels.value, districtLevel: districtLevel.value, facilityLevel: facilityLevel.value },
    }),
  )
  if (!saved.value) return
  forgetUnits()
  emit('saved')
}
</script>

<template>
  <details class="card">
    <summary>{{ t('levels.title') }}</summary>
    <form class="stack" @submit.prevent="save">
      <div v-for="(level, at) in levels" :key="at" class="row">
        <span class="depth">{{ at + 1 }}</span>
        <InputText
          v-for="language in LANGUAGES"
          :key="language"
          v-model="level[language]"
          size="small"
          :aria-label="t('levels.name', { level: at + 1, language })"
          maxlength="60"
          required
        />
        <Button
          v-if="at === levels.length - 1 && at > 0"
          text
          size="small"
          severity="secondary"
          icon="pi pi-trash"
          :aria-label="t('draft.remove', { name: words.say(level) })"
          @click="levels.pop()"
        />
      </div>
      <div v-if="levels.length < 9">
        <Button text size="small" icon="pi pi-plus" :label="t('levels.add')" @click="levels.push({})" />
      </div>
      <div class="fields">
        <PickOne
          v-model="districtLevel"
          input-id="level-signs"
          :label="t('levels.signs')"
          :options="options"
        />
        <PickOne
          v-model="facilityLevel"
          input-id="level-reports"
          :label="t('levels.reports')"
          :options="options"
        />
      </div>
      <ProblemNote :problem="problem" />
      <div class="row">
        <Button type="submit" size="small" :label="t('levels.save')" :loading="busy" /><span
          v-if="saved"
          role="status"
          class="quiet"
          >{{ t('draft.state.saved') }}</span
        >
      </div>
    </form>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  font: 600 18px var(--title);
}
form {
  padding-top: 10px;
}
.depth {
  width: 18px;
  font-weight: 600;
  color: var(--ink-5);
}
</style>
