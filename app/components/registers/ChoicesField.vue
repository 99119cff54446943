<script setup lang="ts">
import { placesOf } from '#core/define/form-parts'
import type { Choice, Form, QuestionOf } from '#core/form/question'

/**
 * The choices of a question: its own, or those of a shared list; narrowed by an answer before, where they
 * depend on one.
 */
const { part, form, lists } = defineProps<{
  part: QuestionOf<'oneOf'> | QuestionOf<'severalOf'>
  form: Form
  lists: readonly { value: string; label: string }[]
}>()
const emit = defineEmits<{ take: [code: string] }>()
const words = useWords()
const { t } = words
const own = computed(() => part as unknown as { choices: Choice[]; cascade?: string; list?: string })
const choices = computed<Choice[]>({
  get: () => own.value.choices,
  set: next => {
    own.value.choices = next
  },
})
const before = computed(() =>
  placesOf(form.parts).flatMap(({ part: other }) =>
    other.kind === 'oneOf' && other.code !== part.code ? [other] : [],
  ),
)
const cascade = computed<string | null>({
  get: () => own.value.cascade ?? null,
  set: next => {
    if (next) own.value.cascade = next
    else {
      delete own.value.cascade
      own.value.choices.forEach(choice => {
        delete choice.under
      })
    }
  },
})
const above = computed(() => before.value.find(({ code }) => code === own.value.cascade))
const list = computed<string | null>({
  get: () => own.value.list ?? null,
  set: next => {
    if (next) emit('take', next)
    else delete own.value.list
  },
})
</script>

<template>
  <fieldset class="plain">
    <legend>{{ t('question.choices') }}</legend>
    <div class="fields">
      <PickOne
        v-model="list"
        input-id="choices-list"
        :label="t('question.from')"
        :options="[{ value: null, label: t('question.ownChoices') }, ...lists]"
      />
      <PickOne
        v-if="before.length"
        v-model="cascade"
        input-id="choices-cascade"
        :label="t('question.dependsOn')"
        :options="[
          { value: null, label: t('question.dependsOnNothing') },
          ...before.map(one => ({
            value: one.code as string | null,
            label: words.say(one.label) || one.code,
          })),
        ]"
      />
    </div>
    <p v-if="list" class="small quiet">
      {{ choices.map(one => words.say(one.label)).join(', ') }}
      <button type="button" class="textual" @click="emit('take', list!)">{{ t('question.takeAnew') }}</button>
    </p>
    <BandList
      v-else
      v-model="choices"
      input-id="choice"
      words-key="label"
      :unders="above ? above.choices.map(one => ({ value: one.code, label: words.say(one.label) })) : []"
      :add-label="t('question.newChoice')"
    />
  </fieldset>
</template>
