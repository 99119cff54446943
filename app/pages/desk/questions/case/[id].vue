<script setup lang="ts">
import { namesOfRegister } from '~/cases/caseDoubtNames'
import { useCaseQuestions } from '~/device/useQuestionAnswer'

/** One question about a case: what is doubted, the conversation, the way to correct it, the answer. */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const route = useRoute()
const id = computed(() => String(route.params.id))
const load = useCaseQuestions()
const file = computed(() => load.data.value?.find(({ line }) => line.id === id.value) ?? null)
const { registersLoad, registers, cases } = useDeskCases()
const register = computed(() => registers.value.get(file.value?.line.case.register ?? '') ?? null)
const one = computed(() => cases.all.value.find(found => found.id === file.value?.line.case.id) ?? null)
const { numbers } = useDoubtWords(() =>
  register.value
    ? namesOfRegister(register.value, registers.value.get(register.value.parent ?? ''))
    : { item: () => undefined, band: () => undefined },
)
/** Leads to the form of the doubted entry where there is one, else to the case. */
const correctLink = computed(() => {
  const { case: of, entry } = file.value!.line
  const filled = one.value?.file.entries.find(found => found.id === entry)
  return filled
    ? `/desk/cases/fill?register=${of.register}&form=${filled.form}&case=${of.id}&corrects=${filled.id}`
    : `/desk/cases/${of.id}`
})
</script>

<template>
  <div>
    <DeskHead :title="file ? words.say(file.line.title) : t('place.questions')" back="/desk/questions">{{
      one ? cases.titleOf(one) : ''
    }}</DeskHead>
    <main class="one">
      <LoadState :load="load">
        <LoadState :load="registersLoad">
          <p v-if="!file" class="quiet">{{ t('questions.none') }}</p>
          <template v-else>
            <section class="card stack">
              <p>{{ words.say(file.forClerk) }}</p>
              <p>
                <strong>{{ numbers(file.doubt) }}</strong>
              </p>
              <NuxtLink v-if="file.line.state !== 'settled'" :to="correctLink">{{
                t('caseDoubts.correctThere')
              }}</NuxtLink>
            </section>
            <section class="card stack">
              <h2>{{ t('resolve.thread') }}</h2>
              <ThreadView :thread="file.thread" />
            </section>
            <QuestionAnswer :line="file.line" />
          </template>
        </LoadState>
      </LoadState>
    </main>
  </div>
</template>

<style scoped>
.one {
  max-width: 720px;
  margin: 0 auto;
  padding: 14px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
</style>
