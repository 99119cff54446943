<script setup lang="ts">
import type { DiscrepancyLine } from '#core/contract/discrepancies'

/** The work list, largest effect on the district first. Arrows move through it. */
const { lines, chosen } = defineProps<{ lines: DiscrepancyLine[]; chosen: string | null }>()
const emit = defineEmits<{ choose: [id: string] }>()
const words = useWords()
const { t } = words
const list = useTemplateRef('list')
const largest = computed(() => Math.max(...lines.map(({ effect }) => effect ?? 0), 0.0001))

function onKey(event: KeyboardEvent) {
  const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
  if (!step) return
  event.preventDefault()
  const next = lines[lines.findIndex(({ id }) => id === chosen) + step]
  if (!next) return
  emit('choose', next.id)
  list.value?.querySelector<HTMLElement>(`[data-id="${next.id}"]`)?.focus()
}
</script>

<template>
  <ul ref="list" class="list" @keydown="onKey">
    <li v-for="line in lines" :key="line.id">
      <button
        type="button"
        :data-id="line.id"
        :class="{ chosen: line.id === chosen }"
        :aria-current="line.id === chosen ? 'true' : undefined"
        @click="emit('choose', line.id)"
      >
        <span class="top"
          ><strong>{{ line.unit.name }}</strong
          ><WordTag v-if="line.state !== 'open'" :tone="line.state === 'settled' ? 'moss' : 'dusk'">{{
            t(`discrepancy.${line.state}`)
          }}</WordTag
          ><span class="effect">{{ line.effect === null ? '' : words.percent(line.effect, 1) }}</span></span
        >
        <span class="below"
          ><span class="quiet">{{ words.say(line.title) }}</span
          ><span class="track" aria-hidden="true"
            ><span :style="{ width: `${(100 * (line.effect ?? 0)) / largest}%` }" /></span
        ></span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
.list {
  list-style: none;
  margin: 0;
  padding: 0;
}
button {
  width: 100%;
  text-align: left;
  padding: 10px 18px;
  border: 0;
  border-left: 4px solid transparent;
  border-bottom: 1px solid var(--line);
  background: none;
  font: inherit;
  color: inherit;
  cursor: pointer;
  display: flex;
  flex-direction: column;
  gap: 3px;
}
button:hover {
  background: var(--amber-0);
}
button.chosen {
  background: var(--amber-1);
  border-left-color: var(--amber-5);
}
.top,
.below {
  display: flex;
  align-items: center;
  gap: 8px;
}
.effect {
  margin-left: auto;
  font-size: 14px;
  color: var(--ink-7);
}
.below .quiet {
  flex: 1;
  font-size: 14px;
}
.chosen .quiet {
  color: var(--ink-7);
}
.track {
  width: 64px;
  height: 5px;
  border-radius: 3px;
  background: var(--line);
  overflow: hidden;
}
.track span {
  display: block;
  height: 100%;
  background: var(--plum-5);
}
</style>
