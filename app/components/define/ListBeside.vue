<script setup lang="ts" generic="T extends { code: string; name: Words }">
import type { Words } from '#core/report/edition'

/** A list of named things beside the one that is worked on. What is taken out can be brought back. */
const { chosen, none, choose } = defineProps<{
  chosen: string | null
  none: string
  choose: string
}>()
/** The list of the draft itself: what is taken out is taken out of it. */
const list = defineModel<T[]>('list', { required: true })
const emit = defineEmits<{ choose: [code: string | null] }>()
defineSlots<{
  mark: (of: { one: T }) => unknown
  add: () => unknown
  default: (of: { one: T; at: number; remove: () => void }) => unknown
}>()
const words = useWords()
const { t } = words
const at = computed(() => list.value.findIndex(({ code }) => code === chosen))
const undo = shallowRef<{ name: string; back: () => void } | null>(null)

function remove() {
  const place = at.value
  const [one] = list.value.splice(place, 1)
  undo.value = {
    name: words.say(one!.name) || one!.code,
    back: () => {
      list.value.splice(place, 0, one!)
      emit('choose', one!.code)
    },
  }
  emit('choose', null)
}
function back() {
  undo.value?.back()
  undo.value = null
}
</script>

<template>
  <div class="beside">
    <div class="stack">
      <ul class="plain-list">
        <li v-for="one in list" :key="one.code" :class="{ chosen: one.code === chosen }">
          <button
            type="button"
            class="entry"
            :aria-current="one.code === chosen ? 'true' : undefined"
            @click="emit('choose', one.code)"
          >
            <span>{{ words.say(one.name) || one.code }}</span> <slot name="mark" :one="one" />
          </button>
        </li>
      </ul>
      <p v-if="!list.length" class="quiet">{{ none }}</p>
      <slot name="add" />
      <Message v-if="undo" severity="secondary" closable @close="undo = null"
        >{{ t('draft.removed', { name: undo.name }) }}
        <Button text size="small" :label="t('draft.undo')" @click="back"
      /></Message>
    </div>
    <div v-if="at >= 0" :key="list[at]!.code"><slot :one="list[at]!" :at="at" :remove="remove" /></div>
    <p v-else-if="list.length" class="quiet">{{ choose }}</p>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: minmax(220px, 300px) minmax(0, 1fr);
  gap: 20px;
  align-items: start;
}
li {
  border-bottom: 1px solid var(--line);
  border-left: 4px solid transparent;
}
li.chosen {
  background: var(--amber-1);
  border-left-color: var(--amber-5);
}
.entry {
  width: 100%;
  display: flex;
  justify-content: space-between;
  gap: 8px;
  align-items: center;
  padding: 7px 8px;
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
@media (width < 1024px) {
  .beside {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
