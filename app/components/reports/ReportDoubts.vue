<script setup lang="ts">
import type { Doubt } from '#core/rule/find-doubts'
import { titlesOfDoubts } from '#core/rule/title'
import type { ReportEntry } from '~/reports/useReportEntry'

/** What must be corrected or explained before a report is sent, each with the place for a sentence. */
const { entry, doubts } = defineProps<{ entry: ReportEntry; doubts: readonly Doubt[] }>()
defineSlots<{ /** The way to the values of a doubt. */ default: (of: { doubt: Doubt }) => unknown }>()
/** What is said of the doubts, by their keys. */
const explanations = defineModel<Record<string, string>>({ required: true })
const words = useWords()
const { t } = words
const { numbers } = useDoubtWords(() => entry.doubtNames)
const titleOf = computed(() => titlesOfDoubts(entry.file.edition))
const groups = computed(() =>
  (['mustFix', 'explain'] as const).flatMap(strength => {
    const own = doubts.filter(doubt => doubt.strength === strength)
    return own.length ? [{ strength, doubts: own }] : []
  }),
)
const sayingOf = (doubt: Doubt) => ({
  inputId: `${doubt.strength === 'mustFix' ? 'cannot' : 'explain'}-${doubt.key}`,
  strength: doubt.strength,
  title: words.say(titleOf.value(doubt)),
  says: entry.ruleSays(doubt.code),
  numbers: numbers(doubt),
})
</script>

<template>
  <section
    v-for="group in groups"
    :key="group.strength"
    class="card stack"
    :aria-label="t(`strength.${group.strength}`)"
  >
    <h2>{{ t(`send.${group.strength}`, { count: group.doubts.length }, group.doubts.length) }}</h2>
    <p v-if="group.strength === 'mustFix'" class="small">{{ t('send.mustFixSay') }}</p>
    <DoubtToSay
      v-for="doubt in group.doubts"
      :key="doubt.key"
      v-model="explanations[doubt.key]"
      v-bind="sayingOf(doubt)"
    >
      <slot :doubt="doubt" />
    </DoubtToSay>
  </section>
</template>
