<script setup lang="ts">
import type { Today } from '#core/contract/rounds'

/** What a new installation needs, in order: what is done, and where the next step is. */
const { steps } = defineProps<{ steps: NonNullable<Today['start']> }>()
const { t } = useI18n()
const session = useSession()
const STEPS = [
  { key: 'units', to: '/define/units', needs: 'manageUnits' },
  { key: 'people', to: '/people', needs: 'managePeople' },
  { key: 'datasets', to: '/define', needs: 'define' },
  { key: 'devices', to: '/devices', needs: 'manageDevices' },
] as const
/** The first step that is not done. */
const next = computed(() => STEPS.find(({ key }) => !steps[key])?.key)
</script>

<template>
  <section class="card stack" :aria-label="t('start.title')">
    <h2>{{ t('start.title') }}</h2>
    <ol>
      <li v-for="step in STEPS" :key="step.key" :class="{ next: step.key === next }">
        <i :class="['pi', steps[step.key] ? 'pi-check-circle' : 'pi-circle']" aria-hidden="true" />
        <div>
          <NuxtLink v-if="session.can(step.needs)" :to="step.to">{{
            t(`start.${step.key}`)
          }}</NuxtLink><strong v-else>{{ t(`start.${step.key}`) }}</strong>
          <WordTag v-if="steps[step.key]" tone="moss">{{
            t('start.done', { count: steps[step.key] })
          }}</WordTag>
          <p class="small quiet">
            {{ t(session.can(step.needs) ? `start.${step.key}Hint` : 'start.other') }}
          </p>
        </div>
      </li>
    </ol>
  </section>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
li {
  display: flex;
  gap: 12px;
  align-items: flex-start;
}
.pi-check-circle {
  color: var(--moss-7);
}
.next a,
.next strong {
  font-weight: 700;
}
i {
  margin-top: 4px;
}
</style>
