<script setup lang="ts">
import type { KnownPart } from '#core/cases/known-by-form'
import type { Said } from '#core/cases/story'
import type { Form } from '#core/form/question'
import type { Degrees } from '#core/geography/nearby'
import type { ShownAnswer } from '#core/form/shown-answers'
import type { CaseEntry } from '~/cases/useCaseFile'

/**
 * What is known of a case, form by form. Each answer says which entry gave it, and opens to what was said
 * before.
 */
const { parts, byId, formOf, stories } = defineProps<{
  parts: readonly KnownPart[]
  byId: ReadonlyMap<string, CaseEntry>
  formOf: (entry: CaseEntry) => Form
  /** By question: see core/cases/story. */ stories: ReadonlyMap<string, Said[]>
}>()
const words = useWords()
const { t } = words
const { textOfAnswer } = useAnswerText()
const opened = ref<string | null>(null)
const isFile = ({ question }: ShownAnswer) => question?.kind === 'picture' || question?.kind === 'sound'
const labelOf = ({ question, code }: ShownAnswer) => (question ? words.say(question.label) : code)
const fromOf = ({ entry }: Said) => {
  const own = byId.get(entry)!
  return t('caseFile.from', { form: words.say(formOf(own).name), day: words.plainDay(own.happenedOn) })
}
const STATES = { stands: 'stands', earlier: 'earlier', corrected: 'correctedBy', rival: 'rival' } as const
/** Answers one by one; grids and files are read as in an entry. */
const single = ({ shown }: KnownPart) =>
  shown.flatMap(one => (one.kind === 'answer' && !isFile(one) ? [one] : []))
const answersOf = ({ shown }: KnownPart) =>
  shown.filter(one => one.kind === 'grid' || (one.kind === 'answer' && isFile(one)))
/** Answers that are positions, for a small map under the words. */
const positionsOf = (part: KnownPart) =>
  single(part).flatMap(one =>
    one.question?.kind === 'position' && one.content.kind === 'value'
      ? [{ code: one.code, label: labelOf(one), at: one.content.value as Degrees }]
      : [],
  )
</script>

<template>
  <div class="stack">
    <section v-for="part in parts" :key="part.form?.code ?? ''" class="stack part">
      <h3>{{ part.form ? words.say(part.form.name) : t('caseFile.goneQuestions') }}</h3>
      <dl>
        <div v-for="one in single(part)" :key="one.code" class="answer">
          <dt>{{ labelOf(one) }}</dt>
          <dd>
            <button
              type="button"
              class="textual"
              :aria-expanded="opened === one.code"
              @click="opened = opened === one.code ? null : one.code"
            >
              {{ textOfAnswer(one.question, one.content)
              }}<i
                v-if="(stories.get(one.code)?.length ?? 0) > 1"
                class="pi pi-history"
                :title="t('caseFile.saidMore')"
              />
            </button>
            <ul v-if="opened === one.code" class="plain-list story">
              <li v-for="said in stories.get(one.code)" :key="said.entry">
                <strong v-if="said.state === 'stands'">{{ textOfAnswer(one.question, said.content) }}</strong>
                <template v-else>{{ textOfAnswer(one.question, said.content) }}</template>
                <span class="small quiet said"
                  >{{ t(`caseFile.${STATES[said.state]}`) }} ·
                  <a :href="`#entry-${said.entry}`">{{ fromOf(said) }}</a>
                </span>
              </li>
            </ul>
          </dd>
        </div>
      </dl>
      <PositionMap v-for="one in positionsOf(part)" :key="one.code" :at="one.at" :label="one.label" />
      <ShownAnswers :shown="answersOf(part)" />
    </section>
  </div>
</template>

<style scoped>
dl {
  margin: 0;
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.answer {
  display: grid;
  grid-template-columns: 42% 1fr;
  gap: 8px;
  overflow-wrap: anywhere;
}
dt {
  color: var(--ink-5);
}
dd {
  margin: 0;
}
dd .textual {
  color: inherit;
  text-align: left;
  text-decoration: none;
}
dd .textual:hover {
  text-decoration: underline;
}
.pi-history {
  margin-left: 8px;
  font-size: 13px;
  color: var(--plum-7);
}
.said {
  margin-left: 6px;
}
.story {
  margin: 4px 0 8px;
  padding-left: 10px;
  border-left: 3px solid var(--line);
}
h3 {
  margin: 0;
}
</style>
