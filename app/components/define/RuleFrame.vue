<script setup lang="ts">
import type { RuleDefinition } from '#core/rule/definition'

/** What every rule has: its name, how much it weighs, what a blank makes of it, and what is said. */
const rule = defineModel<RuleDefinition>({ required: true })
const emit = defineEmits<{ remove: [] }>()
defineSlots<{
  /** What must hold. */ default: () => unknown
  /** Fields beside those that every rule has. */ fields?: () => unknown
}>()
const words = useWords()
const { t } = words
const strengths = computed(() =>
  (['mustFix', 'explain', 'note'] as const).map(value => ({ value, label: t(`strength.${value}`) })),
)
const blanks = computed(() =>
  (['notJudged', 'zero'] as const).map(value => ({ value, label: t(`rules.blank.${value}`) })),
)
</script>

<template>
  <section class="card stack">
    <div class="spread">
      <h2>{{ words.say(rule.name) || rule.code }}</h2>
      <Button
        size="small"
        text
        severity="secondary"
        icon="pi pi-trash"
        :label="t('rules.remove')"
        @click="emit('remove')"
      />
    </div>
    <WordsField v-model="rule.name" input-id="rule-name" :label="t('draft.name')" />
    <slot />
    <div class="fields">
      <PickOne
        v-model="rule.strength"
        input-id="rule-strength"
        :label="t('define.strength')"
        :options="strengths"
      />
      <PickOne v-model="rule.blanks" input-id="rule-blanks" :label="t('rules.blanks')" :options="blanks" />
      <slot name="fields" />
    </div>
    <WordsField
      v-model="rule.forClerk"
      input-id="rule-clerk"
      :label="t('draft.part.forClerk')"
      long
      :most="1000"
    />
    <WordsField
      v-model="rule.forOfficer"
      input-id="rule-officer"
      :label="t('draft.part.forOfficer')"
      long
      :most="1000"
    />
  </section>
</template>
