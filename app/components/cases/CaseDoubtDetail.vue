<script setup lang="ts">
import type { CaseRegister } from '#core/cases/register'
import type { CaseDoubtFile } from '#core/contract/case-doubts'
import { namesOfRegister } from '~/cases/caseDoubtNames'

/** A discrepancy about a case: what the rule compared, the conversation, and the ways out. */
const { file, register, parent, name } = defineProps<{
  file: CaseDoubtFile
  register: CaseRegister
  /** The register of the case that this one belongs to. */
  parent: CaseRegister | null
  /** What the case is called. */
  name: string
}>()
const emit = defineEmits<{ done: [] }>()
const words = useWords()
const { t } = words
const session = useSession()
const names = computed(() => namesOfRegister(register, parent))
const caseLink = computed(() => {
  const { case: of, entry } = file.line
  return `/cases/${of.id}${entry ? `#entry-${entry}` : ''}`
})
</script>

<template>
  <article class="stack">
    <div class="row">
      <StrengthTag :strength="file.line.strength" />
      <span class="quiet small"
        >{{ file.line.case.unit.name }} · {{ t(`discrepancy.${file.line.state}`) }}</span
      >
    </div>
    <h2>{{ words.say(file.line.title) }}</h2>
    <p>
      <NuxtLink :to="caseLink">{{ name }}</NuxtLink>
    </p>
    <ComparedCard :doubt="file.doubt" :names="names" :sentence="file.sentence" />
    <div class="card stack">
      <h3>{{ t('resolve.thread') }}</h3>
      <ThreadView :thread="file.thread" />
    </div>
    <SettleCard
      v-if="session.can('resolve')"
      :key="`${file.line.id} ${file.line.state}`"
      :file="file"
      @done="emit('done')"
    />
  </article>
</template>

<style scoped>
h2,
p {
  margin: 0;
}
h3 {
  font-size: 13px;
  color: var(--ink-7);
}
</style>
