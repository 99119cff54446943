<script setup lang="ts">
import type { LanternSign } from '#core/report/state'

/** The one sign of a report's state. Always with its word near it, or in its title. */
const {
  sign,
  size = 20,
  titled = false,
} = defineProps<{ sign: LanternSign; size?: number; titled?: boolean }>()
const { t } = useI18n()
const GLASS = 'M6.6 6.6h6.8c1.9 3 1.9 6 0 9H6.6c-1.9-3-1.9-6 0-9z'
</script>

<template>
  <svg
    :class="['lantern', sign]"
    :width="size"
    :height="size"
    viewBox="0 0 20 20"
    :role="titled ? 'img' : undefined"
    :aria-hidden="!titled"
    :aria-label="titled ? t(`state.${sign}`) : undefined"
  >
    <circle class="frame" cx="10" cy="2.7" r="1.5" />
    <path class="frame" d="M7.2 5.2h5.6M5.6 17.6h8.8" />
    <path class="glass" :d="GLASS" />
    <path
      v-if="sign === 'draft'"
      class="part"
      d="M5.3 11.6h9.4c-.1 1.400-.5 2.700-1.300 4H6.600c-.800-1.300-1.200-2.600-1.300-4z"
    />
    <path v-if="sign === 'sent'" class="flame" d="M10 8c1.900 2.200 1.900 5.200 0 5.200S8.100 10.200 10 8z" />
    <path
      v-if="sign === 'sentBack'"
      class="mark"
      d="M8 10.200a2.300 2.300 0 1 1 .300 2.500M7.700 8.400v1.900h1.900"
    />
    <path v-if="sign === 'accepted'" class="tick" d="M7.600 11.300l1.700 1.700 3.200-3.500" />
    <path v-if="sign === 'overdue'" class="mark" d="M10 8.700v3.200M10 13.700v.1" />
  </svg>
</template>

<style scoped>
.lantern {
  flex: none;
  fill: none;
  stroke-linecap: round;
  stroke-linejoin: round;
  stroke-width: 1.3;
  stroke: currentcolor;
}
.awaited {
  color: color-mix(in srgb, var(--ink-5) 60%, var(--card));
}
.draft {
  color: var(--amber-7);
}
.draft .part {
  fill: var(--amber-5);
  stroke: none;
}
.sent {
  color: var(--amber-7);
}
.sent .glass {
  fill: var(--amber-5);
}
.sent .flame {
  fill: var(--card);
  stroke: none;
}
.sentBack {
  color: var(--brick-7);
}
.sentBack .glass {
  fill: var(--brick-1);
}
.accepted {
  color: var(--moss-7);
}
.accepted .glass {
  fill: var(--moss-7);
}
.accepted .tick {
  stroke: var(--card);
  stroke-width: 1.6;
}
.overdue {
  color: var(--brick-7);
}
.overdue .glass {
  stroke-dasharray: 2 1.6;
}
.overdue .mark {
  stroke-width: 1.7;
}
</style>
