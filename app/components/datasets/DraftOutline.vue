<script setup lang="ts">
import { VueDraggable } from 'vue-draggable-plus'
import type { Section } from '#core/report/edition'
import type { DraftWork } from '~/define/useDraft'

/**
 * Sections and items in paper order: dragged, or moved by keys. Arrows with Alt move an item, also into the
 * next section; Delete takes it out, with undo. What rules or indicators use is asked about before.
 */
const { work, chosen } = defineProps<{ work: DraftWork; chosen: string | null }>()
const emit = defineEmits<{ choose: [code: string] }>()
const words = useWords()
const { t } = words

const splitting = ref(false)
const removal = useRemoval()
const usesOf = (codes: readonly string[]) => codes.flatMap(code => work.usesOf(code)).map(words.say)
const remove = (code: string) =>
  removal.remove(
    words.say(work.items.value.find(item => item.code === code)!.name) || code,
    usesOf([code]),
    () => work.remove(code),
  )
const removeSection = ({ code, name, items }: Section) =>
  removal.remove(words.say(name) || code, usesOf(items.map(item => item.code)), () =>
    work.removeSection(code),
  )
async function move(code: string, by: 1 | -1) {
  work.move(code, by)
  await nextTick()
  document.getElementById(`item-${code}`)?.focus()
}
function onKey(event: KeyboardEvent, code: string) {
  if (event.key === 'Delete') remove(code)
  else if (event.altKey && event.key === 'ArrowUp') void move(code, -1)
  else if (event.altKey && event.key === 'ArrowDown') void move(code, 1)
  else return
  event.preventDefault()
}
function add(section: string, name: string) {
  emit(
    'choose',
    work.addItem(
      work.draft.value!.sections.find(({ code }) => code === section)!,
      name,
    ).code,
  )
}
</script>

<template>
  <div class="stack">
    <div v-if="work.items.value.length > 1 && work.draft.value?.axes.length">
      <Button
        size="small"
        severity="secondary"
        outlined
        icon="pi pi-table"
        :label="t('draft.splitMany')"
        @click="splitting = true"
      />
    </div>
    <section v-for="section in work.draft.value?.sections" :key="section.code">
      <div class="head">
        <h2>{{ words.say(section.name) || section.code }}</h2>
        <Button
          text
          size="small"
          severity="secondary"
          icon="pi pi-arrow-up"
          :aria-label="t('draft.sectionUp', { name: words.say(section.name) })"
          @click="work.moveSection(section.code, -1)"
        />
        <Button
          text
          size="small"
          severity="secondary"
          icon="pi pi-arrow-down"
          :aria-label="t('draft.sectionDown', { name: words.say(section.name) })"
          @click="work.moveSection(section.code, 1)"
        />
        <Button
          text
          size="small"
          severity="secondary"
          icon="pi pi-trash"
          :aria-label="
            t('draft.removeSection', { name: words.say(section.name), count: section.items.length })
          "
          @click="removeSection(section)"
        />
      </div>
      <VueDraggable v-model="section.items" tag="ol" group="items" handle=".grip" :animation="120">
        <li v-for="item in section.items" :key="item.code" :class="{ chosen: item.code === chosen }">
          <i class="pi pi-bars grip" aria-hidden="true" />
          <button
            :id="`item-${item.code}`"
            type="button"
            class="item"
            :aria-current="item.code === chosen ? 'true' : undefined"
            @click="emit('choose', item.code)"
            @keydown="onKey($event, item.code)"
          >
            {{ words.say(item.name) || item.code }}
          </button>
          <Button
            text
            size="small"
            severity="secondary"
            icon="pi pi-arrow-up"
            :aria-label="t('draft.up', { name: words.say(item.name) })"
            @click="move(item.code, -1)"
          />
          <Button
            text
            size="small"
            severity="secondary"
            icon="pi pi-arrow-down"
            :aria-label="t('draft.down', { name: words.say(item.name) })"
            @click="move(item.code, 1)"
          />
          <Button
            text
            size="small"
            severity="secondary"
            icon="pi pi-trash"
            :aria-label="t('draft.remove', { name: words.say(item.name) })"
            @click="remove(item.code)"
          />
        </li>
      </VueDraggable>
      <AddByName
        :label="t('draft.newItemIn', { section: words.say(section.name) })"
        @add="add(section.code, $event)"
      />
    </section>
    <SplitMany v-model:visible="splitting" :work="work" />
    <RemovalNotes :removal="removal" />
  </div>
</template>

<style scoped>
h2 {
  font: 600 15px var(--body);
  flex: 1;
}
.head {
  display: flex;
  align-items: center;
}
ol {
  list-style: none;
  margin: 4px 0 6px;
  padding: 0;
  min-height: 8px;
}
li {
  display: flex;
  align-items: center;
  border-bottom: 1px solid var(--line);
  border-left: 4px solid transparent;
}
li.chosen {
  background: var(--amber-1);
  border-left-color: var(--amber-5);
}
.item {
  flex: 1;
  min-width: 0;
  padding: 7px 8px;
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
.grip {
  padding: 6px 2px 6px 6px;
  color: var(--ink-5);
  cursor: grab;
}
</style>
