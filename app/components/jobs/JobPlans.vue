<script setup lang="ts">
import type { JobKind, JobPlan } from '#core/contract/jobs'

/** What the installation does by itself: when next, how it went last, and doing it now. */
const { plans, busy } = defineProps<{ plans: JobPlan[]; busy: boolean }>()
const emit = defineEmits<{ ask: [kind: JobKind] }>()
const words = useWords()
const { t } = words
</script>

<template>
  <section class="card stack">
    <h2>{{ t('jobs.plan') }}</h2>
    <DataTable :value="plans" data-key="kind">
      <Column :header="t('jobs.what')"
        ><template #body="{ data: one }"
          ><strong>{{ t(`jobs.kind.${one.kind}`) }}</strong>
          <p class="small quiet">{{ t(`jobs.about.${one.kind}`) }}</p></template
        ></Column
      >
      <Column :header="t('jobs.next')"
        ><template #body="{ data: one }"
          >{{ one.nextAt ? words.moment(one.nextAt) : t('jobs.byHand') }}
          <p v-if="one.ifDue" class="small quiet">{{ t('jobs.ifDue') }}</p></template
        ></Column
      >
      <Column :header="t('jobs.last')"
        ><template #body="{ data: one }"
          ><template v-if="one.last"
            ><JobSays :job="one.last" />
            <p class="small quiet">{{ words.moment(one.last.endedAt ?? one.last.askedAt) }}</p></template
          ><span v-else class="quiet">{{ t('people.never') }}</span></template
        ></Column
      >
      <Column :header="t('people.acts')"
        ><template #body="{ data: one }"
          ><Button
            size="small"
            text
            :disabled="busy"
            :label="t('jobs.now')"
            :aria-label="words.pair(t('jobs.now'), t(`jobs.kind.${one.kind}`))"
            @click="emit('ask', one.kind)" /></template
      ></Column>
    </DataTable>
  </section>
</template>
