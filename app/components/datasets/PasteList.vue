<script setup lang="ts">
import { readPastedList, type PastedLine } from '#core/define/paste-list'
import type { DraftWork } from '~/define/useDraft'

/** Lines copied from a spreadsheet or a document become sections and items, in one screen to decide. */
const { work } = defineProps<{ work: DraftWork }>()
const visible = defineModel<boolean>('visible', { required: true })
const words = useWords()
const { t } = words
const text = ref('')
type Way = 'item' | 'section' | 'leave'
const ways = ref<Record<number, Way>>({})
const lines = computed(() => readPastedList(text.value, work.items.value))
const usual = (line: PastedLine): Way => (line.heading ? 'section' : line.match?.sure ? 'leave' : 'item')
const wayOf = (line: PastedLine) => ways.value[line.line] ?? usual(line)
const count = (way: Way) => lines.value.filter(line => wayOf(line) === way).length
const WAYS: Way[] = ['item', 'section', 'leave']

function add() {
  let section = work.draft.value!.sections.at(-1)
  for (const line of lines.value) {
    const way = wayOf(line)
    if (way === 'section') section = work.addSection(line.label)
    if (way === 'item') work.addItem((section ??= work.addSection(t('draft.firstSection'))), line.label)
  }
  text.value = ''
  ways.value = {}
  visible.value = false
}
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="t('draft.paste')" :style="{ width: '860px' }">
    <div class="stack">
      <label for="pasted">{{ t('draft.pasteHint') }}</label>
      <Textarea id="pasted" v-model="text" rows="6" autofocus fluid />
      <table v-if="lines.length">
        <thead>
          <tr>
            <th scope="col">{{ t('draft.name') }}</th>
            <th scope="col">{{ t('draft.becomes') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in lines" :key="line.line">
            <td>
              {{ line.label }}
              <span v-if="line.match" class="small quiet">{{
                t(line.match.sure ? 'draft.isThere' : 'draft.nearly', {
                  name: words.say(line.match.item.name),
                })
              }}</span>
            </td>
            <td>
              <PickOne
                :model-value="wayOf(line)"
                :input-id="`becomes-${line.line}`"
                :label="t('draft.becomesLine', { name: line.label })"
                label-hidden
                :options="WAYS.map(way => ({ value: way, label: t(`draft.way.${way}`) }))"
                @update:model-value="ways[line.line] = $event"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <template #footer>
      <Button severity="secondary" text :label="t('act.cancel')" @click="visible = false" />
      <Button
        :label="t('draft.addItems', { count: count('item') }, count('item'))"
        :disabled="!count('item') && !count('section')"
        @click="add"
      />
    </template>
  </Dialog>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-size: 13px;
  color: var(--ink-5);
}
td,
th {
  padding: 5px 6px;
  border-bottom: 1px solid var(--line);
}
</style>
