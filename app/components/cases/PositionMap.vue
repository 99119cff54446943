<script setup lang="ts">
import { nearestTo, smallMap, type Degrees } from '#core/geography/nearby'
import type { UnitLine } from '#core/contract/units'
import { UNITS_HERE } from '~/units/useUnits'

/** Where something is, among the facilities next to it: no tiles, nothing from outside. */
const { at, label } = defineProps<{ at: Degrees; label: string }>()
const words = useWords()
const { t } = words
const units = inject(UNITS_HERE, null)
const SIZE = { width: 360, height: 220, margin: 34 }
const MOST = 5
/** Dots that are closer than this have one label, in units of the picture. */
const BESIDE = 14

type Placed = UnitLine & Degrees
const isPlaced = (unit: UnitLine): unit is Placed => unit.latitude !== null && unit.longitude !== null
/** Facilities are the lowest units of the tree. */
const facilities = computed(() => {
  const all = [...(units?.byCode.value.values() ?? [])].filter(({ open }) => open)
  const lowest = Math.max(...all.map(({ level }) => level))
  return all.filter(({ level }) => level === lowest).filter(isPlaced)
})
const near = computed(() => nearestTo(at, facilities.value, MOST))
const map = computed(() => smallMap([at, ...near.value.map(({ place }) => place)], SIZE))
const dots = computed(() =>
  near.value.map(({ place, kilometres }, index) => ({
    name: place.name,
    kilometres,
    ...map.value.points[index + 1]!,
  })),
)
/** Names would lie upon one another: numbers do not, and those of one place stand together. */
const labels = computed(() => {
  const groups: { x: number; y: number; numbers: number[] }[] = []
  dots.value.forEach(({ x, y }, at) => {
    const beside = groups.find(one => Math.abs(one.x - x) < BESIDE && Math.abs(one.y - y) < BESIDE)
    if (beside) beside.numbers.push(at + 1)
    else groups.push({ x, y, numbers: [at + 1] })
  })
  return groups.map(({ x, y, numbers }) => ({ x, y, text: numbers.join(', ') }))
})
const here = computed(() => map.value.points[0]!)
const far = (kilometres: number) => t('smallMap.km', { count: words.number(kilometres, 1) })
const sentence = computed(() => {
  const [next] = dots.value
  return next
    ? t('smallMap.near', { what: label, far: far(next.kilometres), facility: next.name })
    : `${label}: ${words.position(at)}`
})
</script>

<template>
  <figure v-if="here">
    <svg :viewBox="`0 0 ${SIZE.width} ${SIZE.height}`" role="img" :aria-label="sentence">
      <rect
        v-for="dot in dots"
        :key="dot.name"
        :x="dot.x - 4"
        :y="dot.y - 4"
        width="8"
        height="8"
        class="facility"
      />
      <circle :cx="here.x" :cy="here.y" r="7" class="here" />
      <text v-for="one in labels" :key="one.text" :x="one.x + 10" :y="one.y - 6">{{ one.text }}</text>
      <path :d="`M12 ${SIZE.height - 12}h${map.scale.length}`" class="scale" />
      <text :x="12" :y="SIZE.height - 18">{{ far(map.scale.kilometres) }}</text>
    </svg>
    <figcaption class="small quiet">
      {{ sentence }}
      <ol>
        <li v-for="dot in dots" :key="dot.name">{{ dot.name }}, {{ far(dot.kilometres) }}</li>
      </ol>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  max-width: 420px;
}
svg {
  width: 100%;
  height: auto;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--paper);
}
ol {
  margin: 4px 0 0;
  padding-left: 20px;
}
text {
  font-size: 12px;
  fill: var(--ink-7);
}
.facility {
  fill: var(--plum-7);
}
.here {
  fill: var(--amber-5);
  stroke: var(--ink-9);
  stroke-width: 1.5;
}
.scale {
  stroke: var(--ink-7);
  stroke-width: 2;
}
</style>
