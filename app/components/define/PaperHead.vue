<script setup lang="ts">
/** The head of a printed form: what it is, and who fills it for when. */
const { title, below, period = false } = defineProps<{ title: string; below: string; period?: boolean }>()
const { t } = useI18n()
const session = useSession()
</script>

<template>
  <header>
    <div>
      <h1>{{ title }}</h1>
      <p>{{ session.view?.installation }} · {{ below }}</p>
    </div>
    <p>{{ t('tryOut.facility') }}: ______________________________</p>
    <p>{{ t(period ? 'onReport.period' : 'paper.date') }}: __________________</p>
  </header>
</template>

<style scoped>
header {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 26px;
  align-items: baseline;
  padding-bottom: 8px;
  border-bottom: 2px solid #000;
}
header div {
  flex-basis: 100%;
}
h1 {
  font-size: 19px;
}
p {
  font-size: 12px;
}
</style>
