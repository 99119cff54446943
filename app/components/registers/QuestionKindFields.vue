<script setup lang="ts">
import { exampleOf } from '#core/expression/pattern-example'
import { placesOf } from '#core/define/form-parts'
import type { Form, FormPart } from '#core/form/question'
import { isTypedNumber } from '#core/report/asked'

/** What belongs to one kind of question only: limits, lengths, levels, sizes. */
const { part, form, levels } = defineProps<{ part: FormPart; form: Form; levels: string[] }>()
const words = useWords()
const { t } = words
const loose = computed(() => part as unknown as Record<string, string | number | boolean | undefined>)
const optional = <T extends string | number>(key: string) =>
  computed<T | null>({
    get: () => (loose.value[key] ?? null) as T | null,
    set: next => {
      if (next === null || next === '') delete loose.value[key]
      else loose.value[key] = next
    },
  })
const unitOfMeasure = optional<string>('unitOfMeasure')
const pattern = optional<string>('pattern')
const example = computed(() => (pattern.value ? exampleOf(pattern.value) : null))
const cascade = optional<string>('cascade')
const level = optional<number>('level')
const number = (key: string) =>
  computed<number | null>({
    get: () => (loose.value[key] as number | undefined) ?? null,
    set: next => {
      if (typeof next === 'number' && Number.isFinite(next)) loose.value[key] = next
      else delete loose.value[key]
    },
  })
const [longest, least, most] = [number('longest'), number('least'), number('most')]
const kilobytes = computed<number | null>({
  get: () => (loose.value.mostBytes ? Math.round(Number(loose.value.mostBytes) / 1024) : null),
  set: next => {
    if (typeof next === 'number' && next >= 1) loose.value.mostBytes = next * 1024
    else delete loose.value.mostBytes
  },
})
const pictureSize = computed<'smaller' | 'asItWas'>({
  get: () => (loose.value.asTaken ? 'asItWas' : 'smaller'),
  set: how => {
    if (how === 'asItWas') loose.value.asTaken = true
    else delete loose.value.asTaken
  },
})
const isNumber = computed(() => isTypedNumber(part.kind))
/** Places that were asked before: the one that is chosen narrows this one. */
const unitsBefore = computed(() =>
  placesOf(form.parts)
    .filter(({ part: other }) => other.kind === 'unit' && other.code !== part.code)
    .map(({ part: other }) => ({
      value: other.code as string | null,
      label: words.say(other.label) || other.code,
    })),
)
</script>

<template>
  <div v-if="isNumber || part.kind === 'computed'" class="field">
    <label for="kind-unit">{{ t('draft.unitOfMeasure') }}</label><InputText
      id="kind-unit"
      v-model="unitOfMeasure"
      maxlength="40"
    />
  </div>
  <template v-if="isNumber">
    <div class="field">
      <label for="kind-least">{{ t('question.least') }}</label><NumberField
        v-model="least"
        input-id="kind-least"
        decimals
      />
    </div>
    <div class="field">
      <label for="kind-most">{{ t('question.most') }}</label><NumberField
        v-model="most"
        input-id="kind-most"
        decimals
      />
    </div>
  </template>
  <div v-if="part.kind === 'text'" class="field">
    <label for="kind-longest">{{ t('question.longest') }}</label><NumberField
      v-model="longest"
      input-id="kind-longest"
      :min="1"
      :max="2000"
    />
  </div>
  <div v-if="part.kind === 'text' || part.kind === 'identifier'" class="field">
    <label for="kind-pattern">{{ t('question.pattern') }}</label><InputText
      id="kind-pattern"
      v-model="pattern"
      maxlength="200"
      placeholder="[A-Z]{3}-\d{4}"
      aria-describedby="kind-pattern-example"
    /><small id="kind-pattern-example" class="quiet">{{
      example ? t('question.like', { example }) : ''
    }}</small>
  </div>
  <template v-if="part.kind === 'unit'">
    <PickOne
      v-model="level"
      input-id="kind-level"
      :label="t('reporting.level')"
      :options="levels.map((name, at) => ({ value: (at + 1) as number | null, label: name }))"
    />
    <PickOne
      v-model="cascade"
      input-id="kind-cascade"
      :label="t('question.within')"
      :options="[{ value: null, label: t('question.anywhere') }, ...unitsBefore]"
    />
  </template>
  <div v-if="part.kind === 'picture' || part.kind === 'sound'" class="field">
    <label for="kind-bytes">{{ t('question.kilobytes') }}</label><NumberField
      v-model="kilobytes"
      input-id="kind-bytes"
      :min="1"
      :max="8192"
    />
  </div>
  <PickOne
    v-if="part.kind === 'picture'"
    v-model="pictureSize"
    input-id="kind-as-taken"
    :label="t('question.asTaken')"
    :options="(['smaller', 'asItWas'] as const).map(value => ({ value, label: t(`question.${value}`) }))"
  />
  <div v-if="part.kind === 'repeat'" class="field">
    <label for="kind-times">{{ t('question.times') }}</label><NumberField
      v-model="most"
      input-id="kind-times"
      :min="1"
      :max="200"
    />
  </div>
</template>
