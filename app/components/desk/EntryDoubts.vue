<script setup lang="ts">
import type { CaseDoubt } from '#core/cases/case-doubts'
import type { CaseRegister } from '#core/cases/register'
import type { CompiledForm } from '#core/form/compile-form'
import { namesOfRegister } from '~/cases/caseDoubtNames'

/** What the rules of a register doubt about an entry that is being filled. */
const { doubts, form, register, parent, unsaid } = defineProps<{
  doubts: readonly CaseDoubt[]
  /** The form that is filled. */
  form: CompiledForm
  register: CaseRegister
  parent: CaseRegister | null
  /** How many still need a sentence, once somebody has tried to save. */
  unsaid: number
}>()
const emit = defineEmits<{ /** To a question of the form. */ jump: [question: string] }>()
/** What is said of each, by its key. */
const explanations = defineModel<Record<string, string>>({ required: true })
const words = useWords()
const { t } = words
const { numbers } = useDoubtWords(() => namesOfRegister(register, parent))
const ruleOf = (doubt: CaseDoubt) => register.rules.find(({ code }) => code === doubt.code)!
const asked = computed(() => new Set(form.outline.placed.flatMap(({ cells }) => cells.map(({ key }) => key))))
/** The first of its answers that this form asks. */
const placeOf = ({ answers }: CaseDoubt) =>
  answers.find(({ from, cell }) => from !== 'parent' && asked.value.has(cell))?.cell
</script>

<template>
  <section class="doubts stack" :aria-label="t('caseDoubts.here')">
    <h2>{{ t('caseDoubts.here') }}</h2>
    <DoubtToSay
      v-for="doubt in doubts"
      :key="doubt.key"
      v-model="explanations[doubt.key]"
      :input-id="`doubt-${doubt.key}`"
      :strength="doubt.strength"
      :title="words.say(ruleOf(doubt).name)"
      :says="words.say(ruleOf(doubt).forClerk)"
      :numbers="numbers(doubt)"
    >
      <button v-if="placeOf(doubt)" type="button" class="textual" @click="emit('jump', placeOf(doubt)!)">
        {{ t(doubt.strength === 'mustFix' ? 'send.correct' : 'send.orCorrect') }}
      </button>
    </DoubtToSay>
    <p v-if="unsaid" role="alert">
      <strong>{{ t('caseDoubts.unsaid', { count: unsaid }, unsaid) }}</strong>
    </p>
  </section>
</template>

<style scoped>
.doubts {
  padding: 12px 16px;
  background: var(--amber-0);
}
h2 {
  margin: 0;
  font-size: 16px;
}
</style>
