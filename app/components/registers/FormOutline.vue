<script setup lang="ts">
import { VueDraggable } from 'vue-draggable-plus'
import { insideOf, mayStandIn, type PartPlace } from '#core/define/form-parts'
import type { FormPart } from '#core/form/question'

/**
 * The parts of a form in their order, sections in sections: dragged, or moved, nested and taken out by keys.
 */
/** The list of the draft itself: what is dragged is moved in it. */
const parts = defineModel<FormPart[]>('parts', { required: true })
const {
  around = null,
  chosen,
  label,
} = defineProps<{ around?: PartPlace['around']; chosen: string | null; label?: string }>()
const emit = defineEmits<{
  choose: [code: string]
  move: [code: string, way: 'up' | 'down' | 'in' | 'out']
  remove: [code: string]
}>()
const words = useWords()
const { t } = words
const WAYS: Record<string, 'up' | 'down' | 'in' | 'out'> = {
  ArrowUp: 'up',
  ArrowDown: 'down',
  ArrowRight: 'in',
  ArrowLeft: 'out',
}
const list = computed<FormPart[]>({
  get: () => parts.value,
  set: next => parts.value.splice(0, parts.value.length, ...next),
})
function onKey(event: KeyboardEvent, code: string) {
  if (event.key === 'Delete') emit('remove', code)
  else if (event.altKey && WAYS[event.key]) emit('move', code, WAYS[event.key]!)
  else return
  event.preventDefault()
}
/** What is dragged says which part it is; a table takes questions only. */
const group = computed(() => ({
  name: 'parts',
  put: (_to: unknown, _from: unknown, dragged: HTMLElement) =>
    around === null || mayStandIn({ kind: dragged.dataset.kind } as FormPart, around),
}))
</script>

<template>
  <VueDraggable
    v-model="list"
    tag="ul"
    class="outline"
    :group="group"
    handle=".grip"
    :animation="120"
    :aria-label="label"
  >
    <li v-for="part in parts" :key="part.code" :data-kind="part.kind">
      <div :class="['line', { chosen: part.code === chosen, frame: insideOf(part) }]">
        <i class="pi pi-bars grip" aria-hidden="true" />
        <button
          :id="`part-${part.code}`"
          type="button"
          class="entry"
          :aria-current="part.code === chosen ? 'true' : undefined"
          @click="emit('choose', part.code)"
          @keydown="onKey($event, part.code)"
        >
          {{ words.say(part.label) || part.code }} <span class="kind">{{ t(`kind.${part.kind}`) }}</span>
        </button>
      </div>
      <FormOutline
        v-if="insideOf(part)"
        :parts="insideOf(part)!"
        :around="part as PartPlace['around']"
        :chosen="chosen"
        :label="words.say(part.label) || part.code"
        @choose="emit('choose', $event)"
        @move="(code, way) => emit('move', code, way)"
        @remove="emit('remove', $event)"
      />
    </li>
  </VueDraggable>
</template>

<style scoped>
.outline {
  list-style: none;
  margin: 0;
  padding: 0;
  min-height: 10px;
}
.outline .outline {
  margin-left: 16px;
  padding-left: 4px;
  border-left: 2px solid var(--line);
  padding-bottom: 6px;
}
.line {
  display: flex;
  align-items: center;
  border-left: 4px solid transparent;
  border-bottom: 1px solid var(--line);
}
.line.chosen {
  background: var(--amber-1);
  border-left-color: var(--amber-5);
}
.line.frame .entry {
  font-weight: 600;
}
.grip {
  padding: 5px 3px;
  color: var(--ink-5);
  cursor: grab;
}
.entry {
  flex: 1;
  min-width: 0;
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 5px 6px;
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
.kind {
  flex: none;
  font-size: 12px;
  font-weight: 400;
  color: var(--ink-5);
}
</style>
