<script setup lang="ts">
import type { NudgeTimes } from '#core/contract/nudges'
import { clockText, minutesOf } from '~/nudges/dayMinutes'

/** When no reminder is sent, and how many a number gets in a day: everybody's. */
const { times } = defineProps<{ times: NudgeTimes }>()
const emit = defineEmits<{ saved: [] }>()
const { t } = useWords()
const { busy, problem, run } = useAct()
const from = ref(clockText(times.quietFrom))
const to = ref(clockText(times.quietTo))
const aDay = ref(times.aDay)
const quietFrom = computed(() => minutesOf(from.value))
const quietTo = computed(() => minutesOf(to.value))
const isGood = computed(() => quietFrom.value !== null && quietTo.value !== null)
async function save() {
  const body = { quietFrom: quietFrom.value!, quietTo: quietTo.value!, aDay: aDay.value }
  if (await run(() => callApi('PUT /api/nudges/times', { body }))) emit('saved')
}
const MOST_A_DAY = 20
const choices = Array.from({ length: MOST_A_DAY }, (_, at) => ({ value: at + 1, label: String(at + 1) }))
</script>

<template>
  <form class="card stack" @submit.prevent="save">
    <h2>{{ t('nudge.times') }}</h2>
    <p class="quiet small">{{ t('nudge.timesSay') }}</p>
    <div class="fields">
      <div class="field">
        <label for="quiet-from">{{ t('nudge.quietFrom') }}</label>
        <InputText id="quiet-from" v-model="from" type="time" required />
      </div>
      <div class="field">
        <label for="quiet-to">{{ t('nudge.quietTo') }}</label>
        <InputText id="quiet-to" v-model="to" type="time" required />
      </div>
      <PickOne v-model="aDay" input-id="nudges-a-day" :label="t('nudge.aDay')" :options="choices" />
    </div>
    <ProblemNote :problem="problem" />
    <div><Button type="submit" :label="t('act.save')" :loading="busy" :disabled="!isGood" /></div>
  </form>
</template>
