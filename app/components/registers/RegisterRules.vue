<script setup lang="ts">
import { compileRegister } from '#core/cases/compile-register'
import type { CaseRegister } from '#core/cases/register'
import { NOTHING, type Vocabulary } from '#core/expression/vocabulary'
import { compileRuleList } from '#core/rule/compile-rules'
import type { RuleDefinition } from '#core/rule/definition'
import { newRule } from '~/define/newRule'
import type { RegisterWork } from '~/define/useRegisterDraft'

/**
 * Rules over a case and its entries, within one entry, and against the case that it belongs to; each tried on
 * the cases that are there.
 */
const { work, chosen } = defineProps<{ work: RegisterWork; chosen: string | null }>()
const emit = defineEmits<{ choose: [code: string | null] }>()
const { t, locale } = useI18n()
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
const isSound = (rule: RuleDefinition) =>
  Boolean(rule.expression.trim()) && compileRuleList([rule], vocabulary.value).ok

function add() {
  const rule = newRule(rules.value, { [locale.value]: t('rules.new') })
  rules.value.push(rule)
  emit('choose', rule.code)
}
</script>

<template>
  <ListBeside
    :list="rules"
    :chosen="chosen"
    :none="t('register.noRules')"
    :choose="t('rules.choose')"
    @choose="emit('choose', $event)"
  >
    <template #mark="{ one }"><StrengthTag :strength="one.strength" /></template>
    <template #add><Button size="small" icon="pi pi-plus" :label="t('rules.empty')" @click="add" /></template>
    <template #default="{ at, remove }"
      ><div class="stack">
        <RuleFrame v-model="rules[at]!" @remove="remove">
          <ExpressionField
            v-model="rules[at]!.expression"
            input-id="rule-expression"
            :label="t('define.mustHold')"
            :vocabulary="vocabulary"
            wanted="truth"
            parts
          />
          <p v-if="!vocabulary.names.size" class="small quiet">{{ t('register.formsFirst') }}</p>
        </RuleFrame>
        <CaseTryOut
          :key="rules[at]!.code"
          :register="work.draft.value as CaseRegister"
          :parent="work.file.value?.parent ?? null"
          :code="rules[at]!.code"
          :sound="isSound(rules[at]!)"
        />
      </div>
    </template>
  </ListBeside>
</template>
