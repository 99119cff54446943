<script setup lang="ts">
import { namesWhere } from '#core/define/part-vocabulary'
import { placesOf } from '#core/define/form-parts'
import { checkCode } from '#core/form/code'
import { TYPE_OF_KIND, type Form, type FormPart } from '#core/form/question'
import type { ValueType } from '#core/expression/vocabulary'
import type { Band } from '#core/report/edition'
import type { FormInWork, RegisterWork } from '~/define/useRegisterDraft'

/**
 * One part of a form: its words, its kind with what belongs to it, when it is asked, and what is accepted.
 */
const { work, form, levels, lists } = defineProps<{
  work: RegisterWork
  form: FormInWork
  levels: string[]
  lists: readonly { value: string; label: string }[]
}>()
/** The part of the draft that is worked on: its fields write straight into it. */
const part = defineModel<FormPart>({ required: true })
const emit = defineEmits<{ recoded: [code: string]; remove: []; takeList: [code: string] }>()
const words = useWords()
const { t } = words
const FRAMES = ['section', 'table', 'repeat']
const kinds = computed(() =>
  PART_KINDS.filter(kind =>
    FRAMES.includes(part.value.kind) ? kind === part.value.kind : !FRAMES.includes(kind),
  ).map(kind => ({ value: kind, label: t(`kind.${kind}`) })),
)
const where = computed(() => namesWhere(form.form as Form, part.value.code))
/** A loose view of the part: which of these it has depends on its kind, and the template asks that first. */
const loose = computed(
  () =>
    part.value as unknown as {
      rows: Band[]
      definition?: Record<string, string>
      default?: string
      shownWhen?: string
      expression: string
      unitOfMeasure?: string
    },
)
const isAsked = computed(() => !['section', 'note', 'table', 'repeat', 'computed'].includes(part.value.kind))
const answerType = computed(() => (TYPE_OF_KIND as Record<string, ValueType>)[part.value.kind])
const published = computed(
  () =>
    new Set(
      (work.file.value?.published?.forms ?? []).flatMap(one =>
        placesOf(one.form.parts).map(place => place.part.code),
      ),
    ),
)
const code = ref(part.value.code)
const codeProblem = computed(() => {
  if (code.value === part.value.code) return ''
  const checked = checkCode(
    code.value,
    placesOf(form.form.parts as FormPart[]).map(one => one.part.code),
  )
  return checked.ok ? '' : words.problem(checked.problems[0]!)
})
function recode() {
  if (codeProblem.value || code.value === part.value.code) return
  work.recode(form, part.value.code, code.value)
  emit('recoded', code.value)
}
const definition = computed({
  get: () => loose.value.definition,
  set: next => {
    loose.value.definition = next
  },
})
const shownWhen = computed({
  get: () => loose.value.shownWhen,
  set: next => {
    if (next === undefined) delete loose.value.shownWhen
    else loose.value.shownWhen = next
  },
})
const standard = computed({
  get: () => loose.value.default,
  set: next => {
    if (next === undefined) delete loose.value.default
    else loose.value.default = next
  },
})
const MOVES = [
  ['up', 'pi-arrow-up'],
  ['down', 'pi-arrow-down'],
  ['in', 'pi-arrow-right'],
  ['out', 'pi-arrow-left'],
] as const
</script>

<template>
  <section class="card stack" :aria-label="words.say(part.label)">
    <div class="spread">
      <h2>{{ words.say(part.label) || part.code }}</h2>
      <div class="row">
        <Button
          v-for="[way, icon] in MOVES"
          :key="way"
          size="small"
          text
          severity="secondary"
          :icon="`pi ${icon}`"
          :aria-label="t(`question.move.${way}`)"
          :title="t(`question.move.${way}`)"
          @click="work.move(form, part.code, way)"
        />
        <Button
          size="small"
          text
          severity="secondary"
          icon="pi pi-trash"
          :aria-label="t('draft.remove', { name: words.say(part.label) })"
          @click="emit('remove')"
        />
      </div>
    </div>
    <WordsField
      v-model="part.label"
      input-id="label"
      :label="t(part.kind === 'note' ? 'question.note' : 'question.label')"
      :long="part.kind === 'note'"
      :most="part.kind === 'note' ? 1000 : 300"
    />
    <div class="fields">
      <div class="field">
        <label for="part-code">{{ t('define.code') }}</label><InputText
          id="part-code"
          v-model="code"
          :disabled="published.has(part.code)"
          maxlength="32"
          :invalid="Boolean(codeProblem)"
          aria-describedby="part-code-why"
          @blur="recode"
        /><small id="part-code-why" class="quiet">{{
          codeProblem || (published.has(part.code) ? t('draft.codeStays') : '')
        }}</small>
      </div>
      <PickOne
        :model-value="part.kind"
        input-id="part-kind"
        :label="t('question.kind')"
        :options="kinds"
        @update:model-value="work.changeKind(form, part.code, $event)"
      />
      <QuestionKindFields :key="part.kind" :part="part" :form="form.form as Form" :levels="levels" />
    </div>
    <ExpressionField
      v-if="part.kind === 'computed'"
      v-model="loose.expression"
      input-id="part-expression"
      :label="t('question.expression')"
      :vocabulary="where.vocabulary"
      :narrowing="where.narrowing"
    />
    <ChoicesField
      v-if="part.kind === 'oneOf' || part.kind === 'severalOf'"
      :part="part"
      :form="form.form as Form"
      :lists="lists"
      @take="emit('takeList', $event)"
    />
    <fieldset v-if="part.kind === 'table'" class="plain">
      <legend>{{ t('question.rows') }}</legend>
      <BandList v-model="loose.rows" input-id="row" words-key="name" :add-label="t('question.newRow')" />
    </fieldset>
    <p v-if="FRAMES.includes(part.kind)" class="small quiet">{{ t(`question.holds.${part.kind}`) }}</p>
    <template v-if="part.kind !== 'note' && part.kind !== 'section'">
      <WordsField
        v-if="definition"
        v-model="definition"
        input-id="definition"
        :label="t('draft.definition')"
        long
        :most="1000"
      />
      <div v-else>
        <Button
          size="small"
          text
          icon="pi pi-plus"
          :label="t('question.addDefinition')"
          @click="definition = {}"
        />
      </div>
    </template>
    <OptionalExpression
      v-model="shownWhen"
      input-id="part-shown"
      :label="t('question.shownWhen')"
      :add="t('question.addCondition')"
      :where="where"
      wanted="truth"
      parts
    />
    <RequiredField v-if="isAsked" :part="part" :where="where" />
    <AcceptedField v-if="isAsked" :part="part" :where="where" />
    <OptionalExpression
      v-if="isAsked"
      v-model="standard"
      input-id="part-default"
      :label="t('question.default')"
      :add="t('question.addDefault')"
      :where="where"
      :wanted="answerType"
    />
  </section>
</template>
