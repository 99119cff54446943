<script setup lang="ts">
import type { ReportFile } from '#core/contract/reports'
import type { Doubt } from '#core/rule/find-doubts'
import { v7 as uuid } from 'uuid'
import type { DeskOutcome } from '#core/contract/desk'
import { clockNow, deviceNow } from '~/common/useClock'
import { onOutcome } from '~/device/useDeskSend'

const { file } = defineProps<{ file: ReportFile }>()
const words = useWords()
const { t } = words
const desk = useDesk()
const store = useDeskStore()
const own = useOwnCases(file)
const counts = useOwnCounts(file, own)
const entry = useReportEntry(file, { counts: counts.figures })
onMounted(() => entry.restorePending())

const { differing, doubts: ofRegister } = useRegisterCounts(file, entry.contentOf, own)
const mustFix = computed(() => entry.doubts.value.filter(({ strength }) => strength === 'mustFix'))
const toExplain = computed(() =>
  [...entry.doubts.value, ...ofRegister.value].filter(({ strength }) => strength === 'explain'),
)
const blanks = computed(() => entry.filled.value.applies - entry.filled.value.answered)
// What was written before stays on this device until the report is received.
const KEPT = `explanations|${file.round.id}|${file.unit.code}`
const explanations = reactive<Record<string, string>>({})
onMounted(async () => {
  Object.assign(explanations, (await store.drafts.get('place', KEPT))?.content)
  watch(
    explanations,
    now => void store.drafts.put({ place: KEPT, at: clockNow(), content: { ...now } }, 'place'),
  )
})
const isSaid = ({ key }: Doubt) => (explanations[key]?.trim().length ?? 0) > 1
const missing = computed(() => toExplain.value.filter(doubt => !isSaid(doubt)))
/** Must-fix doubts without a sentence that says why they cannot be corrected. */
const wrong = computed(() => mustFix.value.filter(doubt => !isSaid(doubt)))
const busy = ref(false)
/**
 * Where the sending has got to: with the district, or waiting on this device; or why the district did not
 * take it.
 */
const sentAt = ref<string | null>(null)
const problem = shallowRef<ApiProblem | null>(null)
const vault = useVault()
const maySend = computed(
  () => !wrong.value.length && !missing.value.length && entry.filled.value.answered > 0,
)

const sectionOf = (doubt: Doubt) =>
  file.edition.sections.find(({ items }) => items.includes(entry.cellByKey.get(doubt.cells[0]!)!.item))!.code

const countsOf = useCountsBehind(file, counts, differing)
const linkTo = (doubt: Doubt) =>
  reportLink('report', file.round.id, file.unit.code, sectionOf(doubt), doubt.cells[0])

const place = reportPlace(file.round.id, file.unit.code)
async function onSendOutcome({ outcome, code, message }: DeskOutcome) {
  if (outcome === 'received' || outcome === 'alreadyHad') {
    sentAt.value = new Date(clockNow()).toISOString()
    await store.drafts.remove('place', [KEPT])
  } else if (outcome === 'refused') problem.value = new ApiProblem(409, code ?? 'server', message ?? '')
  // What a closed round did not take goes by itself when the district lets this facility in.
  if (outcome === 'refused' && !isClosedCode(code))
    await entry.outbox.drop(
      (await entry.outbox.waiting()).flatMap(({ id, change }) => (change.kind === 'send' ? [id] : [])),
    )
  await entry.restorePending()
}
onScopeDispose(
  onOutcome(place, ({ change }, outcome) => {
    if (change.kind === 'send') void onSendOutcome(outcome)
  }),
)

/** Sending is one act: it waits here like anything else, behind the values that it sends. */
async function send() {
  busy.value = true
  problem.value = null
  const relevant = Object.fromEntries(
    [...mustFix.value, ...toExplain.value].map(({ key }) => [key, explanations[key] ?? '']),
  )
  await desk.saveAct(place, {
    kind: 'send',
    id: uuid(),
    madeAt: new Date(deviceNow()).toISOString(),
    round: file.round.id,
    unit: file.unit.code,
    explanations: relevant,
  })
  await desk.sync()
  await entry.restorePending()
  busy.value = false
}
</script>

<template>
  <div>
    <DeskHead :title="t('send.title')" :back="reportLink('report', file.round.id, file.unit.code)"
      >{{ words.say(file.round.name) }} · {{ words.period(file.round.period) }}</DeskHead
    >
    <main class="send">
      <div v-if="sentAt" class="card sent" role="status">
        <LanternSign sign="sent" :size="44" />
        <h2>{{ t('send.received', { time: words.time(sentAt) }) }}</h2>
        <NuxtLink to="/desk">{{ t('send.toDue') }}</NuxtLink>
      </div>
      <ClosedNote v-else-if="entry.isClosed.value" :entry="entry" />
      <div v-else-if="entry.sendWaits.value" class="card sent" role="status">
        <LanternSign sign="draft" :size="44" />
        <h2>{{ t('send.waits') }}</h2>
        <p class="quiet">
          {{ t(desk.state.value === 'waitsForWifi' ? 'cases.waitsForWifi' : 'cases.noNetwork') }}
        </p>
        <NuxtLink to="/desk">{{ t('send.toDue') }}</NuxtLink>
      </div>
      <template v-else>
        <p v-if="vault.device!.settings.may.changeSent" class="quiet small">{{ t('send.after') }}</p>
        <section class="card stack">
          <OthersIn :file="file" />
          <p>
            {{
              t('send.filled', { answered: entry.filled.value.answered, applies: entry.filled.value.applies })
            }}
          </p>
          <p v-if="blanks" class="quiet">{{ t('send.blanks', { count: blanks }, blanks) }}</p>
        </section>
        <ReportDoubts
          v-slot="{ doubt }"
          v-model="explanations"
          :entry="entry"
          :doubts="[...mustFix, ...toExplain]"
        >
          <CountedCases :counts="countsOf(doubt)" />
          <NuxtLink :to="linkTo(doubt)">{{
            t(doubt.strength === 'mustFix' ? 'send.correct' : 'send.orCorrect')
          }}</NuxtLink>
        </ReportDoubts>
        <ProblemNote :problem="problem" />
        <Button
          class="go"
          :label="t('send.send')"
          icon="pi pi-send"
          :disabled="!maySend"
          :loading="busy"
          @click="send"
        />
        <p v-if="!maySend" class="quiet small">
          {{
            wrong.length
              ? t('send.stopped')
              : missing.length
                ? t('send.sentenceMissing', { count: missing.length }, missing.length)
                : t('send.empty')
          }}
        </p>
        <SaveLine :entry="entry" />
      </template>
    </main>
  </div>
</template>

<style scoped>
.send {
  max-width: 720px;
  margin: 0 auto;
  padding: 14px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.sent {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 12px;
  padding: 32px 16px;
  text-align: center;
}
.go {
  min-height: 48px;
}
</style>
