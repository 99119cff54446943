<script setup lang="ts">
/** A short word on a tint. The tone follows the word; the word is what counts. */
export type Tone = 'plain' | 'amber' | 'moss' | 'brick' | 'dusk' | 'broken'

const { tone = 'plain' } = defineProps<{ tone?: Tone }>()
</script>

<template>
  <span :class="['tag', tone]"><slot /></span>
</template>

<style scoped>
.tag {
  display: inline-block;
  padding: 1px 8px;
  border-radius: 6px;
  font-size: 13px;
  font-weight: 600;
  line-height: 19px;
  white-space: nowrap;
  border: 1px solid transparent;
}
.tag::first-letter {
  text-transform: uppercase;
}
.plain {
  background: var(--sand);
  color: var(--ink-7);
}
.amber {
  background: var(--amber-1);
  color: var(--amber-7);
}
.moss {
  background: var(--moss-1);
  color: var(--moss-7);
}
.brick {
  background: var(--brick-1);
  color: var(--brick-7);
}
.dusk {
  background: var(--dusk-1);
  color: var(--dusk-7);
}
.broken {
  border: 1px dashed var(--brick-7);
  color: var(--brick-7);
}
</style>
