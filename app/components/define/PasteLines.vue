<script setup lang="ts" generic="Way extends string">
/** Pasted lines in one screen to decide: what each becomes. What the ways mean is the parent's. */
const { title, hint, inputId, head, lines, options, act, canAdd } = defineProps<{
  title: string
  hint: string
  inputId: string
  /** The head of the first column. */
  head: string
  /** Each with its number, its name, what is noticed about it, and what it becomes. */
  lines: readonly { line: number; name: string; note: string; way: Way }[]
  options: { value: Way; label: string }[]
  act: string
  canAdd: boolean
}>()
const visible = defineModel<boolean>('visible', { required: true })
const text = defineModel<string>({ required: true })
const emit = defineEmits<{ choose: [line: number, way: Way]; add: [] }>()
const { t } = useI18n()
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="title" :style="{ width: '860px' }">
    <div class="stack">
      <label :for="inputId">{{ hint }}</label>
      <Textarea :id="inputId" v-model="text" rows="6" autofocus fluid />
      <table v-if="lines.length">
        <thead>
          <tr>
            <th scope="col">{{ head }}</th>
            <th scope="col">{{ t('draft.becomes') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ line, name, note, way } in lines" :key="line">
            <td>
              {{ name }} <span v-if="note" class="small quiet">{{ note }}</span>
            </td>
            <td>
              <PickOne
                :model-value="way"
                :input-id="`becomes-${line}`"
                :label="t('draft.becomesLine', { name })"
                label-hidden
                :options="options"
                @update:model-value="emit('choose', line, $event)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <template #footer>
      <Button severity="secondary" text :label="t('act.cancel')" @click="visible = false" />
      <Button :label="act" :disabled="!canAdd" @click="emit('add')" />
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
td:last-child {
  width: 220px;
}
</style>
