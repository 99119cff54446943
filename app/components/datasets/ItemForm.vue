<script setup lang="ts">
import { likeItem } from '#core/define/paste-list'
import { checkCode } from '#core/form/code'
import { becomeKind } from '#core/define/new-item'
import { NOTHING, vocabularyOf } from '#core/expression/vocabulary'
import type { Form, FormPart } from '#core/form/question'
import { isTypedNumber } from '#core/report/asked'
import { ITEM_KINDS, ROLL_UPS, type Item, type ItemKind } from '#core/report/edition'
import type { ChoiceList } from '#core/define/choice-list'
import type { DraftWork } from '~/define/useDraft'

/**
 * One item: its names and definitions in each language, how it is counted, split and rolled up, and what is
 * usual.
 */
const { work, lists } = defineProps<{ work: DraftWork; lists: readonly ChoiceList[] }>()
/** The item of the draft that is worked on: its fields write straight into it. */
const item = defineModel<Item>({ required: true })
const emit = defineEmits<{ recoded: [code: string] }>()
const words = useWords()
const { t } = words
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
const isTyped = computed(() => isTypedNumber(item.value.kind))
/** The item as the parts of a question edit it: both have the same names for the same things. */
const part = computed(() => item.value as unknown as FormPart)
const NO_FORM: Form = { code: 'dataset', name: {}, parts: [] }
/** Conditions look at the report itself, as in a case form: at no other dataset and no earlier period. */
const where = computed(() => ({
  vocabulary: { ...vocabularyOf(work.whole.value!, NOTHING, NOTHING), noPeriods: true as const },
}))
function takeList(code: string) {
  const found = lists.find(one => one.code === code)
  if (!found) return
  item.value.list = code
  item.value.choices = found.choices.map(({ code: choice, label }) => ({ code: choice, label: { ...label } }))
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
      <PickOne
        :model-value="item.kind"
        input-id="item-kind"
        :label="t('question.kind')"
        :disabled="isPublished"
        :options="ITEM_KINDS.map(one => ({ value: one, label: t(`kind.${one}`) }))"
        @update:model-value="(kind: ItemKind) => becomeKind(item, kind)"
      />
      <QuestionKindFields :key="item.kind" :part="part" :form="NO_FORM" :levels="[]" />
      <PickOne
        v-model="item.rollUp"
        input-id="item-rollup"
        :label="t('define.rollUp')"
        :options="ROLL_UPS[item.kind].map(one => ({ value: one, label: t(`rollUp.${one}`) }))"
      />
      <PickOne
        v-if="isTyped"
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
    <ExpressionField
      v-if="item.kind === 'computed'"
      :model-value="item.expression ?? ''"
      input-id="item-expression"
      :label="t('question.expression')"
      :vocabulary="where.vocabulary"
      wanted="number"
      @update:model-value="item.expression = $event"
    />
    <ChoicesField
      v-if="item.kind === 'oneOf' || item.kind === 'severalOf'"
      :part="part as never"
      :form="NO_FORM"
      :lists="lists.map(one => ({ value: one.code, label: words.say(one.name) }))"
      @take="takeList"
    />
    <fieldset v-if="isTyped && work.draft.value?.axes.length" class="plain">
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
    <OptionalExpression
      v-model="item.shownWhen"
      input-id="item-shown"
      :label="t('question.shownWhen')"
      :add="t('question.addCondition')"
      :where="where"
      wanted="truth"
      parts
    />
    <template v-if="item.kind !== 'computed'">
      <RequiredField :part="part" :where="where" />
      <AcceptedField :part="part" :where="where" />
    </template>
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
