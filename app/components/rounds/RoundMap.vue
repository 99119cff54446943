<script setup lang="ts">
import type { BoardRow } from '#core/contract/rounds'
import { MAP_SIZE, type RoundMap } from '~/rounds/roundMap'

/** A round on its branch's outline: a lantern for each facility. No tiles, nothing from outside. */
const { map, shown, chosen, name } = defineProps<{
  map: RoundMap
  /** The facilities that are asked for; the others are faint. */
  shown: ReadonlySet<string>
  chosen: string | null
  /** What the map is of. */
  name: string
}>()
const emit = defineEmits<{ choose: [unit: string] }>()
const words = useWords()
const { t } = words
const labelOf = ({ unit, sign }: BoardRow) => words.pair(unit.name, t(`state.${sign}`))
const placeOf = ({ x, y }: { x: number; y: number }) => ({
  left: `${(100 * x) / MAP_SIZE.width}%`,
  top: `${(100 * y) / MAP_SIZE.height}%`,
})
</script>

<template>
  <div class="map" role="group" :aria-label="t('roundMap.of', { name })">
    <svg :viewBox="`0 0 ${MAP_SIZE.width} ${MAP_SIZE.height}`" aria-hidden="true">
      <path v-for="(one, at) in map.outlines" :key="at" :d="one.path" class="outline" />
      <path :d="`M16 ${MAP_SIZE.height - 16}h${map.scale.length}`" class="scale" />
      <text x="16" :y="MAP_SIZE.height - 24">
        {{ t('smallMap.km', { count: words.number(map.scale.kilometres) }) }}
      </text>
    </svg>
    <button
      v-for="one in map.placed"
      :key="one.row.unit.code"
      type="button"
      :class="['place', { faint: !shown.has(one.row.unit.code), on: one.row.unit.code === chosen }]"
      :style="placeOf(one)"
      :title="labelOf(one.row)"
      :aria-label="labelOf(one.row)"
      :aria-pressed="one.row.unit.code === chosen"
      @click="emit('choose', one.row.unit.code)"
    >
      <LanternSign :sign="one.row.sign" :size="22" />
      <span v-if="one.row.unit.code === chosen" class="label">{{ one.row.unit.name }}</span>
    </button>
  </div>
</template>

<style scoped>
.map {
  position: relative;
  border: 1px solid var(--line);
  border-radius: 10px;
  background: color-mix(in srgb, var(--dusk-1) 45%, var(--card));
  overflow: hidden;
}
svg {
  display: block;
  width: 100%;
  height: auto;
}
.map > svg text {
  font-size: 14px;
  fill: var(--ink-7);
}
.outline {
  fill: var(--paper);
  stroke: var(--ink-5);
  stroke-width: 1.2;
  stroke-linejoin: round;
}
.scale {
  stroke: var(--ink-7);
  stroke-width: 2;
}
.place {
  position: absolute;
  display: grid;
  place-items: center;
  width: 28px;
  height: 28px;
  padding: 0;
  font: inherit;
  border: 1px solid transparent;
  border-radius: 50%;
  background: color-mix(in srgb, var(--card) 82%, transparent);
  transform: translate(-50%, -50%);
  cursor: pointer;
}
.place:hover,
.place:focus-visible,
.place.on {
  z-index: 2;
  border-color: var(--plum-7);
  background: var(--card);
}
.place.faint {
  opacity: 0.35;
}
.label {
  position: absolute;
  top: 100%;
  padding: 1px 8px;
  border-radius: 6px;
  background: var(--plum-9);
  color: #fff;
  font-size: 13px;
  font-weight: 600;
  white-space: nowrap;
}
</style>
