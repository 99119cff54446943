<script setup lang="ts">
import type { VisitLine, VisitMove } from '#core/contract/visits'

/** The visits to a facility, and what was counted again there in this quarter and the one before. */
const { unit } = defineProps<{ unit: { code: string; name: string } }>()
const words = useWords()
const { t } = words
const MOST = 3
const visits = useLoad(
  async () => {
    const [planned, made] = await Promise.all(
      (['planned', 'made'] as const).map(show =>
        callApi('GET /api/visits', { query: { unit: unit.code, show } }),
      ),
    )
    return [...planned!.lines, ...made!.lines.slice(0, MOST)]
  },
  () => unit.code,
)
const hasPlanned = computed(() => visits.data.value?.some(({ state }) => state === 'planned') ?? false)
const asking = shallowRef<{ visit: string | null; to: VisitMove['to'] }>({ visit: null, to: 'planned' })
const isAsking = ref(false)
function openDialog(visit: VisitLine | null, to: VisitMove['to']) {
  asking.value = { visit: visit?.id ?? null, to }
  isAsking.value = true
}
</script>

<template>
  <section class="card stack" aria-labelledby="visits">
    <div class="spread">
      <h2 id="visits">{{ t('visits.title') }}</h2>
      <span class="row"
        ><NuxtLink :to="recountLink(unit.code)">{{ t('recount.open') }}</NuxtLink
        ><Button
          v-if="visits.data.value && !hasPlanned"
          size="small"
          severity="secondary"
          outlined
          icon="pi pi-calendar-plus"
          :label="t('visits.plan')"
          @click="openDialog(null, 'planned')"
      /></span>
    </div>
    <LoadState
      v-slot="{ data }"
      :load="visits"
      :empty="visits.data.value?.length === 0"
      :empty-text="t('visits.none.made')"
    >
      <VisitTable :lines="data" :with-unit="false" @move="openDialog" />
    </LoadState>
    <VisitDialog v-model:visible="isAsking" :unit="unit" v-bind="asking" @done="visits.reload()" />
  </section>
</template>
