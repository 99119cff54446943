<script setup lang="ts">
import { likeItem } from '#core/define/paste-list'
import { checkCode } from '#core/form/code'
import type { Item } from '#core/report/edition'
import type { DraftWork } from '~/define/useDraft'

/**
 * One item: its names and definitions in each language, how it is counted, split and rolled up, and what is
 * usual.
 */
const { work } = defineProps<{ work: DraftWork }>()
/** The item of the draft that is worked on: its fields write straight into it. */
const item = defineModel<Item>({ required: true })
const emit = defineEmits<{ recoded: [code: string] }>()
const words = useWords()
const { t } = words
const ROLL_UPS = ['sum', 'mean', 'last', 'none'] as const
const METHODS = ['modifiedZ', 'meanSd', 'poisson', 'fixed'] as const
const twin = computed(
  () => likeItem(words.say(item.value.name), work.items.value, item.value.code)?.item ?? null,
)
const isPublished = computed(() => work.publishedCodes.value.has(item.value.code))
const uses = computed(() => work.usesOf(item.value.code))
const code = ref(item.value.code)
const codeProblem = computed(() => {
  if (code.value === item.value.code) return ''
  const checked = checkCode(
    code.value,
    work.items.value.map(one => one.code),
  )
  return checked.ok ? '' : words.problem(checked.problems[0]!)
})
function recode() {
  if (codeProblem.value || code.value === item.value.code) return
  work.recode(item.value, code.value)
  emit('recoded', code.value)
}
const method = computed({
  get: () => item.value.range?.method ?? 'none',
  set: next => {
    const raises = item.value.range?.raises ?? 'explain'
    const made = {
      none: null,
      modifiedZ: { method: 'modifiedZ', limit: 3.5, raises },
      meanSd: { method: 'meanSd', k: 3, raises },
      poisson: { method: 'poisson', tail: 0.00135, raises },
      fixed: { method: 'fixed', low: 0, high: 100, raises },
    } as const
    item.value.range = made[next]
  },
})
</script>

<template>
  <section class="card stack" :aria-label="words.say(item.name)">
    <h2>{{ words.say(item.name) || item.code }}</h2>
    <Message v-if="twin" severity="warn" :closable="false">{{
      t('draft.nearly', { name: words.say(twin.name) })
    }}</Message>
    <WordsField v-model="item.name" input-id="name" :label="t('draft.name')" />
    <WordsField
      v-model="item.definition"
      input-id="definition"
      :label="t('draft.definition')"
      long
      :most="1000"
    />
    <div class="fields">
      <div class="field">
        <label for="item-code">{{ t('define.code') }}</label><InputText
          id="item-code"
          v-model="code"
          :disabled="isPublished"
          maxlength="32"
          :invalid="Boolean(codeProblem)"
          aria-describedby="item-code-why"
          @blur="recode"
        /><small id="item-code-why" class="quiet">{{
          codeProblem || (isPublished ? t('draft.codeStays') : '')
        }}</small>
      </div>
      <div class="field">
        <label for="item-unit">{{ t('draft.unitOfMeasure') }}</label><InputText
          id="item-unit"
          v-model="item.unitOfMeasure"
          maxlength="40"
        />
      </div>
      <PickOne
        v-model="item.number"
        input-id="item-number"
        :label="t('draft.number')"
        :options="(['count', 'decimal'] as const).map(one => ({ value: one, label: t(`draft.${one}`) }))"
      />
      <PickOne
        v-model="item.rollUp"
        input-id="item-rollup"
        :label="t('define.rollUp')"
        :options="ROLL_UPS.map(one => ({ value: one, label: t(`rollUp.${one}`) }))"
      />
      <PickOne
        v-model="method"
        input-id="item-range"
        :label="t('draft.range')"
        :options="[
          { value: 'none' as const, label: t('rollUp.none') },
          ...METHODS.map(one => ({ value: one, label: t(`draft.method.${one}`) })),
        ]"
      />
    </div>
    <div v-if="item.range?.method === 'fixed'" class="fields">
      <div class="field">
        <label for="item-low">{{ t('draft.low') }}</label><NumberField
          v-model="item.range.low"
          input-id="item-low"
          decimals
        />
      </div>
      <div class="field">
        <label for="item-high">{{ t('draft.high') }}</label><NumberField
          v-model="item.range.high"
          input-id="item-high"
          decimals
        />
      </div>
    </div>
    <fieldset v-if="work.draft.value?.axes.length" class="plain">
      <legend>{{ t('define.breakdown') }}</legend>
      <label v-for="axis in work.draft.value.axes" :key="axis.code" class="axis"
        ><input
          v-model="item.axes"
          type="checkbox"
          :value="axis.code"
          :disabled="item.axes.length >= 2 && !item.axes.includes(axis.code)"
        />
        {{ words.say(axis.name) }}
        <span class="small quiet">{{ axis.bands.map(band => words.say(band.name)).join(', ') }}</span></label
      >
    </fieldset>
    <p class="small quiet">
      {{
        uses.length ? t('draft.usedIn', { names: uses.map(words.say).join(', ') }) : t('draft.usedNowhere')
      }}
    </p>
  </section>
</template>

<style scoped>
.axis {
  display: block;
}
</style>
