<script setup lang="ts">
import type { Today } from '#core/contract/rounds'

/** What the person did last, to go on with. */
const { acts } = defineProps<{ acts: Today['lastActs'] }>()
const words = useWords()
const { t } = words
type Act = Today['lastActs'][number]
const linkOf = ({ discrepancy, act, round, unit }: Act) => {
  if (discrepancy) return `/resolve/${discrepancy}`
  return act === 'reminded' ? facilityFileLink(unit.code) : facilityLink(round.id, unit.code)
}
</script>

<template>
  <section v-if="acts.length" class="card" aria-labelledby="last-acts">
    <h2 id="last-acts">{{ t('lastActs.title') }}</h2>
    <ul class="plain-list">
      <li v-for="one in acts" :key="one.at + one.unit.code + one.discrepancy">
        <span class="small quiet">{{ words.moment(one.at) }} · {{ t(`lastActs.${one.act}`) }}</span>
        <p>
          <NuxtLink :to="linkOf(one)">{{ one.unit.name }}</NuxtLink><span class="quiet"
            >, {{ words.say(one.round.name) }}, {{ words.period(one.round.period) }}</span
          >
        </p>
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}
</style>
