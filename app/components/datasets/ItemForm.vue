<script setup lang="ts">
import { likeItem } from '#core/define/paste-list'
import { checkCode } from '#core/form/code'
import type { Item } from '#core/report/edition'
import type { DraftWork } from '~/composables/useDraft'

/** One item: its names and definitions in each language, how it is counted, split and rolled up, and what is usual. */
const { work } = defineProps<{ work: DraftWork }>()
/** The item of the draft that is worked on: its fields write straight into it. */
const item = defineModel<Item>({ required: true })
const emit = defineEmits<{ recoded: [code: string] }>()
const words = useWords()
const { t } = words
const LANGUAGES = ['en', 'fr']
const ROLL_UPS = ['sum', 'mean', 'last', 'none'] as const
const METHODS = ['modifiedZ', 'meanSd', 'poisson', 'fixed'] as const
const twin = computed(() => likeItem(words.say(item.value.name), work.items.value, item.value.code)?.item ?? null)
const isPublished = computed(() => work.publishedCodes.value.has(item.value.code))
const code = ref(item.value.code)
const codeProblem = computed(() => {
  if (code.value === item.value.code) return ''
  const checked = checkCode(code.value, work.items.value.map(one => one.code))
  return checked.ok ? '' : words.problem(checked.problems[0]!)
})
function recode() {
  if (codeProblem.value || code.value === item.value.code) return
  work.recode(item.value, code.value)
  emit('recoded', code.value)
}
const method = computed({
  get: () => item.value.range?.method ?? 'none',
  set: (next) => {
    const raises = item.value.range?.raises ?? 'explain'
    const made = { none: null, modifiedZ: { method: 'modifiedZ', limit: 3.5, raises }, meanSd: { method: 'meanSd', k: 3, raises }, poisson: { method: 'poisson', tail: 0.00135, raises }, fixed: { method: 'fixed', low: 0, high: 100, raises } } as const
    item.value.range = made[next]
  },
})
</script>

<template>
  <section class="card stack" :aria-label="words.say(item.name)">
    <h2>{{ words.say(item.name) || item.code }}</h2>
    <Message v-if="twin" severity="warn" :closable="false">{{ t('draft.nearly', { name: words.say(twin.name) }) }}</Message>
    <div v-for="language in LANGUAGES" :key="language" class="stack two">
      <div class="field"><label :for="`name-${language}`">{{ t('draft.name') }} ({{ language }})</label><InputText :id="`name-${language}`" v-model="item.name[language]" maxlength="300" /></div>
      <div class="field"><label :for="`definition-${language}`">{{ t('draft.definition') }} ({{ language }})</label><Textarea :id="`definition-${language}`" v-model="item.definition[language]" rows="2" auto-resize maxlength="1000" /></div>
    </div>
    <div class="row fields">
      <div class="field"><label for="item-code">{{ t('define.code') }}</label><InputText id="item-code" v-model="code" :disabled="isPublished" maxlength="32" :invalid="Boolean(codeProblem)" aria-describedby="item-code-why" @blur="recode" /><small id="item-code-why" class="quiet">{{ codeProblem || (isPublished ? t('draft.codeStays') : '') }}</small></div>
      <div class="field"><label for="item-unit">{{ t('draft.unitOfMeasure') }}</label><InputText id="item-unit" v-model="item.unitOfMeasure" maxlength="40" /></div>
      <div class="field"><label for="item-number">{{ t('draft.number') }}</label><select id="item-number" v-model="item.number"><option value="count">{{ t('draft.count') }}</option><option value="decimal">{{ t('draft.decimal') }}</option></select></div>
      <div class="field"><label for="item-rollup">{{ t('define.rollUp') }}</label><select id="item-rollup" v-model="item.rollUp"><option v-for="one in ROLL_UPS" :key="one" :value="one">{{ t(`rollUp.${one}`) }}</option></select></div>
      <div class="field"><label for="item-range">{{ t('draft.range') }}</label><select id="item-range" v-model="method"><option value="none">{{ t('rollUp.none') }}</option><option v-for="one in METHODS" :key="one" :value="one">{{ t(`draft.method.${one}`) }}</option></select></div>
    </div>
    <div v-if="item.range?.method === 'fixed'" class="row fields">
      <div class="field"><label for="item-low">{{ t('draft.low') }}</label><input id="item-low" v-model.number="item.range.low" type="number" step="any"></div>
      <div class="field"><label for="item-high">{{ t('draft.high') }}</label><input id="item-high" v-model.number="item.range.high" type="number" step="any"></div>
    </div>
    <fieldset v-if="work.draft.value?.axes.length">
      <legend>{{ t('define.breakdown') }}</legend>
      <label v-for="axis in work.draft.value.axes" :key="axis.code" class="axis"><input v-model="item.axes" type="checkbox" :value="axis.code" :disabled="item.axes.length >= 2 && !item.axes.includes(axis.code)"> {{ words.say(axis.name) }} <span class="small quiet">{{ axis.bands.map(band => words.say(band.name)).join(', ') }}</span></label>
    </fieldset>
  </section>
</template>

<style scoped>
.two { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr); align-items: start; }
.fields { align-items: flex-start; gap: 14px; }
.field { display: flex; flex-direction: column; gap: 3px; }
.field label, legend { font-size: 14px; font-weight: 600; color: var(--ink-7); }
select, input[type='number'] { font: inherit; padding: 7px 9px; border: 1px solid var(--line); border-radius: 8px; background: var(--card); color: var(--ink-9); }
fieldset { margin: 0; padding: 0; border: 0; display: flex; flex-direction: column; gap: 4px; }
.axis { display: block; }
</style>
