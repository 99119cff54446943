<script setup lang="ts">
import type { PartNames } from '#core/define/part-vocabulary'
import type { FormPart } from '#core/form/question'

/**
 * Must it be answered: never, always, or when something holds. *Not known* with a reason always answers it.
 */
const { part, where } = defineProps<{ part: FormPart; where: PartNames }>()
const { t } = useI18n()
const own = computed(() => part as { required?: 'always' | { when: string } })
const way = computed<'never' | 'always' | 'when'>({
  get: () =>
    own.value.required === undefined ? 'never' : own.value.required === 'always' ? 'always' : 'when',
  set: next => {
    if (next === 'never') delete own.value.required
    else own.value.required = next === 'always' ? 'always' : { when: '' }
  },
})
const when = computed<string>({
  get: () => (typeof own.value.required === 'object' ? own.value.required.when : ''),
  set: next => {
    own.value.required = { when: next }
  },
})
</script>

<template>
  <PickOne
    v-model="way"
    input-id="part-required"
    :label="t('question.required')"
    :options="
      (['never', 'always', 'when'] as const).map(one => ({
        value: one,
        label: t(`question.requires.${one}`),
      }))
    "
  />
  <ExpressionField
    v-if="way === 'when'"
    v-model="when"
    input-id="part-required-when"
    :label="t('question.requiredWhen')"
    :vocabulary="where.vocabulary"
    :narrowing="where.narrowing"
    wanted="truth"
    parts
  />
  <p v-if="way === 'always'" class="small quiet">{{ t('question.requiredHint') }}</p>
</template>
