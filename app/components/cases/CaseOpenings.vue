<script setup lang="ts">
import type { CaseOpening, CaseReaders } from '#core/contract/cases'

/** Who opened this case at the office, the last first; read when somebody asks for it. */
const { id } = defineProps<{ id: string }>()
const words = useWords()
const { t } = words
const openings = ref<CaseOpening[] | null>(null)
const maySee = ref<CaseReaders[]>([])
const more = ref(false)
const { busy, problem, run } = useAct()
async function read(before?: string) {
  await run(async () => {
    const page = await callApi('GET /api/cases/:case/openings', {
      params: { case: id },
      query: { ...(before && { before }) },
    })
    openings.value = [...(before ? (openings.value ?? []) : []), ...page.openings]
    more.value = page.more
    if (page.maySee) maySee.value = page.maySee
  })
}
function onToggle(event: Event) {
  if ((event.target as HTMLDetailsElement).open && !openings.value) void read()
}
</script>

<template>
  <details class="card no-print" @toggle="onToggle">
    <summary>{{ t('openings.title') }}</summary>
    <p class="small quiet">{{ t('openings.note') }}</p>
    <ProblemNote :problem="problem" />
    <p v-if="!openings && busy" class="small" role="status">{{ t('load.loading') }}</p>
    <ul v-if="openings" class="plain-list">
      <li v-for="one in openings" :key="one.by + one.day">
        <strong>{{ one.by }}</strong>
        <span class="small quiet">
          {{ t(`role.${one.role}`) }} · {{ words.moment(one.lastAt) }} ·
          {{ t('openings.times', { count: one.times }, one.times) }}
        </span>
      </li>
    </ul>
    <p v-if="openings && !openings.length" class="small quiet">{{ t('openings.none') }}</p>
    <template v-if="maySee.length">
      <h3>{{ t('openings.maySee') }}</h3>
      <ul class="plain-list">
        <li v-for="one in maySee" :key="`${one.role} ${one.branch?.code}`">
          {{ t(`role.${one.role}`) }} · {{ one.branch?.name ?? t('openings.everywhere') }}
          <span class="small quiet">{{ t('openings.people', { count: one.people }, one.people) }}</span>
        </li>
      </ul>
    </template>
    <Button
      v-if="more"
      size="small"
      severity="secondary"
      outlined
      :label="t('openings.more')"
      :loading="busy"
      @click="read(openings!.at(-1)!.lastAt)"
    />
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  font-weight: 600;
}
li {
  display: flex;
  gap: 8px;
  align-items: baseline;
  flex-wrap: wrap;
  padding: 3px 0;
}
@media print {
  .no-print {
    display: none;
  }
}
</style>
