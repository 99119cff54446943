<script setup lang="ts">
import type { NudgeRules } from '#core/contract/nudges'
import { messageParts } from '#core/nudge/message-parts'
import { checkNudge, LONGEST_NUDGE, NUDGE_FIELDS } from '#core/nudge/template'

/** What reminders say, in each language, with what is wrong while it is typed. */
const { rules } = defineProps<{ rules: NudgeRules }>()
const emit = defineEmits<{ saved: [] }>()
const words = useWords()
const { t } = words
const { busy, problem, run } = useAct()
const fields = NUDGE_FIELDS.map(field => `{${field}}`).join(' ')
const LANGUAGES = ['en', 'fr'] as const
type Language = (typeof LANGUAGES)[number]
const texts = reactive({ en: rules.text.en ?? '', fr: rules.text.fr ?? '' })
const problemsOf = (language: Language) => checkNudge(texts[language])
const isGood = computed(() => LANGUAGES.every(language => !problemsOf(language).length))
const lengthOf = (language: Language) => {
  const { parts, costly } = messageParts(texts[language])
  return [
    parts > 1 ? t('nudge.parts', { count: parts }, parts) : '',
    costly.length ? t('nudge.costly', { letters: costly.join(' ') }) : '',
  ]
    .filter(Boolean)
    .join(' ')
}
async function save(text: Record<Language, string> | null) {
  if (await run(() => callApi('PUT /api/nudges/text', { body: { text } }))) emit('saved')
}
</script>

<template>
  <form class="card stack" @submit.prevent="save({ ...texts })">
    <h2>{{ t('nudge.text') }}</h2>
    <p class="quiet small">
      {{ rules.unit ? t('nudge.textOf', { unit: rules.unit.name }) : t('nudge.textOfAll') }}
      {{ t('nudge.fields', { fields }) }}
    </p>
    <div v-for="language in LANGUAGES" :key="language" class="field wide">
      <label :for="`nudge-${language}`">{{ t(`nudge.language.${language}`) }}</label>
      <Textarea
        :id="`nudge-${language}`"
        v-model="texts[language]"
        rows="3"
        fluid
        :maxlength="LONGEST_NUDGE + 100"
        :invalid="problemsOf(language).length > 0"
        :aria-describedby="`nudge-${language}-says`"
      />
      <div :id="`nudge-${language}-says`">
        <p v-for="one in problemsOf(language)" :key="one.message" class="wrong small">
          {{ words.problem(one) }}
        </p>
        <p class="small quiet">{{ lengthOf(language) }}</p>
      </div>
    </div>
    <ProblemNote :problem="problem" />
    <div class="row">
      <Button type="submit" :label="t('act.save')" :loading="busy" :disabled="!isGood" />
      <Button
        v-if="rules.isOwn"
        severity="secondary"
        text
        :label="t(rules.unit ? 'nudge.backToAll' : 'nudge.backToUsual')"
        @click="save(null)"
      />
    </div>
  </form>
</template>

<style scoped>
.wrong {
  color: var(--brick-7);
}
</style>
