<script setup lang="ts">
import type { DiscrepancyFile } from '#core/contract/discrepancies'

/** What was said and done about a discrepancy, in order. */
const { thread } = defineProps<{ thread: DiscrepancyFile['thread'] }>()
const words = useWords()
const { t } = words
const initials = (name: string | null) =>
  name
    ? name
        .split(' ')
        .map(part => part[0])
        .slice(0, 2)
        .join('')
    : '·'
</script>

<template>
  <ol class="thread">
    <li v-for="(said, at) in thread" :key="at">
      <span class="who" aria-hidden="true">{{ initials(said.by) }}</span>
      <div>
        <p>
          <strong v-if="said.by">{{ said.by }}</strong>{{ ' ' }}
          <span class="quiet small">{{ words.moment(said.at) }} · {{ t(`thread.${said.act}`) }}</span>
        </p>
        <p v-if="said.text">{{ said.text }}</p>
      </div>
    </li>
  </ol>
</template>

<style scoped>
.thread {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
li {
  display: flex;
  gap: 10px;
}
.who {
  flex: none;
  width: 28px;
  height: 28px;
  border-radius: 50%;
  display: grid;
  place-items: center;
  font-size: 12px;
  font-weight: 700;
  background: var(--plum-1);
  color: var(--plum-7);
}
</style>
