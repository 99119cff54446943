<script setup lang="ts">
/** One facility's report, as the officer reads it. */
const { t } = useWords()
const route = useRoute()
const router = useRouter()
const round = computed(() => String(route.params.round))
const unit = computed(() => String(route.params.unit))
useRoundNeighbours(
  () => round.value,
  other => void router.push(facilityLink(other, unit.value)),
)
</script>

<template>
  <div class="page">
    <FacilityReport :round="round" :unit="unit">
      <template #waiting>
        <h1 class="visually-hidden">{{ t('place.gather') }}</h1>
      </template>
      <template #problem>
        <p class="back">
          <NuxtLink to="/gather">{{ t('act.toBoard') }}</NuxtLink>
        </p>
      </template>
    </FacilityReport>
  </div>
</template>
