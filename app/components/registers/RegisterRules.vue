<script setup lang="ts">
import { compileRegister } from '#core/cases/compile-register'
import type { CaseRegister } from '#core/cases/register'
import { NOTHING, type Vocabulary } from '#core/expression/vocabulary'
import type { RegisterWork } from '~/define/useRegisterDraft'

/**
 * Rules over a case and its entries, and against the case that it belongs to. They are kept and compiled, and
 * not judged yet: so none is offered here, and those that a definition brings say so.
 */
const { work, chosen } = defineProps<{ work: RegisterWork; chosen: string | null }>()
const emit = defineEmits<{ choose: [code: string | null] }>()
const words = useWords()
const { t } = words
const rules = computed(() => work.draft.value!.rules)
/** The names of the rules; of nothing while the forms have mistakes in them. */
const vocabulary = computed<Vocabulary>(() => {
  const parent = work.file.value?.parent ? compileRegister(work.file.value.parent) : null
  const compiled = compileRegister(
    { ...work.draft.value!, rules: [] } as CaseRegister,
    parent?.ok ? parent.value : undefined,
  )
  return compiled.ok
    ? compiled.value.vocabulary
    : { label: {}, names: NOTHING, others: NOTHING, lists: NOTHING }
})
</script>

<template>
  <ListBeside
    :list="rules"
    :chosen="chosen"
    :none="t('register.noRules')"
    :choose="t('rules.choose')"
    @choose="emit('choose', $event)"
  >
    <template #mark
      ><WordTag>{{ t('register.notJudged') }}</WordTag></template
    >
    <template #add
      ><p class="small quiet">{{ t('register.rulesLater') }}</p></template
    >
    <template #default="{ at, remove }">
      <section class="card stack">
        <div class="spread">
          <h2>{{ words.say(rules[at]!.name) || rules[at]!.code }}</h2>
          <Button
            size="small"
            text
            severity="secondary"
            icon="pi pi-trash"
            :label="t('rules.remove')"
            @click="remove"
          />
        </div>
        <WordsField v-model="rules[at]!.name" input-id="rule-name" :label="t('draft.name')" />
        <ExpressionField
          v-model="rules[at]!.expression"
          input-id="rule-expression"
          :label="t('define.mustHold')"
          :vocabulary="vocabulary"
          wanted="truth"
          parts
        />
        <p v-if="!vocabulary.names.size" class="small quiet">{{ t('register.formsFirst') }}</p>
        <div class="fields">
          <PickOne
            v-model="rules[at]!.strength"
            input-id="rule-strength"
            :label="t('define.strength')"
            :options="
              (['mustFix', 'explain', 'note'] as const).map(one => ({
                value: one,
                label: t(`strength.${one}`),
              }))
            "
          />
          <PickOne
            v-model="rules[at]!.blanks"
            input-id="rule-blanks"
            :label="t('rules.blanks')"
            :options="
              (['notJudged', 'zero'] as const).map(one => ({ value: one, label: t(`rules.blank.${one}`) }))
            "
          />
        </div>
        <WordsField
          v-model="rules[at]!.forClerk"
          input-id="rule-clerk"
          :label="t('draft.part.forClerk')"
          long
          :most="1000"
        />
        <WordsField
          v-model="rules[at]!.forOfficer"
          input-id="rule-officer"
          :label="t('draft.part.forOfficer')"
          long
          :most="1000"
        />
      </section>
    </template>
  </ListBeside>
</template>
