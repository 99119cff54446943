<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'
import type { Doubt } from '#core/rule/find-doubts'
import { titleOfDoubt } from '#core/rule/title'

const { file } = defineProps<{ file: ReportFile }>()
const words = useWords()
const { t } = words
const session = useSession()
const entry = useReportEntry(file, session.view!.person.id)
onMounted(() => entry.takeUpWaiting())
const { numbers } = useDoubtWords(() => namesOfEdition(file.edition))

const mustFix = computed(() => entry.doubts.value.filter(({ strength }) => strength === 'mustFix'))
const toExplain = computed(() => entry.doubts.value.filter(({ strength }) => strength === 'explain'))
const blanks = computed(() => entry.filled.value.applies - entry.filled.value.answered)
// What was written before stays on this device until the report is received.
const KEPT = `${session.view!.person.id}|${file.round.id}|explanations`
const explanations = reactive<Record<string, string>>(JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Record<string, string>)
watch(explanations, now => localStorage.setItem(KEPT, JSON.stringify(now)))
const missing = computed(() => toExplain.value.filter(({ key }) => (explanations[key]?.trim().length ?? 0) < 2))
const { busy, problem, run } = useAct()
const sentAt = ref<string | null>(null)
const maySend = computed(() => !mustFix.value.length && !missing.value.length && entry.filled.value.answered > 0)

const titleOf = (doubt: Doubt) => words.say(titleOfDoubt(file.edition, doubt))
const sectionOf = (doubt: Doubt) => file.edition.sections.find(({ items }) => items.includes(entry.cellByKey.get(doubt.cells[0]!)!.item))!.code

async function send() {
  await run(async () => {
    await entry.outbox.flush()
    if ((await entry.outbox.waiting()).length) throw entry.outbox.problem.value ?? new ApiProblem(0, 'unreachable', '')
    const relevant = Object.fromEntries(toExplain.value.map(({ key }) => [key, explanations[key] ?? '']))
    const answer = await callApi('POST /api/reports/:round/:unit/send', { params: { round: file.round.id, unit: file.unit.code }, body: { explanations: relevant } })
    sentAt.value = answer.receivedAt
    localStorage.removeItem(KEPT)
  })
}
</script>

<template>
  <div>
    <DeskHead :title="t('send.title')" :back="`/desk/report/${file.round.id}`">{{ words.say(file.round.name) }} · {{ words.period(file.round.period) }}</DeskHead>
    <main class="send">
      <div v-if="sentAt" class="card sent" role="status">
        <LanternSign sign="sent" :size="44" />
        <h2>{{ t('send.received', { time: words.time(sentAt) }) }}</h2>
        <NuxtLink to="/desk">{{ t('send.toDue') }}</NuxtLink>
      </div>
      <template v-else>
        <section class="card stack">
          <p>{{ t('send.filled', { answered: entry.filled.value.answered, applies: entry.filled.value.applies }) }}</p>
          <p v-if="blanks" class="quiet">{{ t('send.blanks', { count: blanks }, blanks) }}</p>
        </section>
        <section v-if="mustFix.length" class="card stack" :aria-label="t('strength.mustFix')">
          <h2>{{ t('send.mustFix', { count: mustFix.length }, mustFix.length) }}</h2>
          <p class="small">{{ t('send.mustFixSay') }}</p>
          <div v-for="doubt in mustFix" :key="doubt.key" class="doubt brick">
            <strong>{{ titleOf(doubt) }}</strong> <span class="small">{{ numbers(doubt) }}</span>
            <NuxtLink :to="`/desk/report/${file.round.id}?section=${sectionOf(doubt)}`">{{ t('send.correct') }}</NuxtLink>
          </div>
        </section>
        <section v-if="toExplain.length" class="card stack" :aria-label="t('strength.explain')">
          <h2>{{ t('send.explain', { count: toExplain.length }, toExplain.length) }}</h2>
          <div v-for="doubt in toExplain" :key="doubt.key" class="doubt amber">
            <label :for="`explain-${doubt.key}`"><strong>{{ titleOf(doubt) }}</strong> <span class="small">{{ numbers(doubt) }}</span></label>
            <Textarea :id="`explain-${doubt.key}`" v-model="explanations[doubt.key]" rows="2" fluid :placeholder="t('send.sentence')" />
            <NuxtLink :to="`/desk/report/${file.round.id}?section=${sectionOf(doubt)}`">{{ t('send.orCorrect') }}</NuxtLink>
          </div>
        </section>
        <ProblemNote :problem="problem" />
        <Button class="go" :label="t('send.send')" icon="pi pi-send" :disabled="!maySend" :loading="busy" @click="send" />
        <p v-if="!maySend" class="quiet small">{{ mustFix.length ? t('send.stopped') : missing.length ? t('send.sentenceMissing', { count: missing.length }, missing.length) : t('send.empty') }}</p>
        <KeptLine :entry="entry" />
      </template>
    </main>
  </div>
</template>

<style scoped>
.send { max-width: 720px; margin: 0 auto; padding: 14px; display: flex; flex-direction: column; gap: 12px; }
.sent { display: flex; flex-direction: column; align-items: center; gap: 12px; padding: 32px 16px; text-align: center; }
.doubt { display: flex; flex-direction: column; gap: 6px; padding-left: 10px; border-left: 3px solid var(--line); }
.brick { border-left-color: var(--brick-7); }
.amber { border-left-color: var(--amber-5); }
.doubt a { min-height: 24px; }
.go { min-height: 48px; }
</style>
