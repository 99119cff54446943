<script setup lang="ts">
import type { UnitChangeLine } from '#core/contract/units'

/** The latest changes of the tree; each can be taken back while nothing stands on it. */
const emit = defineEmits<{ changed: [] }>()
const words = useWords()
const { t } = words
const changes = useLoad(() => callApi('GET /api/units/changes', {}))
const asking = shallowRef<UnitChangeLine | null>(null)
const { busy, problem, run } = useAct()
defineExpose({ reload: changes.reload })
const countsOf = (line: UnitChangeLine) =>
  Object.entries(line.counts)
    .filter(([verdict]) => verdict !== 'unchanged')
    .map(([verdict, count]) => `${count} ${t(`units.verdict.${verdict}`)}`)
    .join(', ')

async function undo() {
  const { id } = asking.value!
  if (!(await run(() => callApi('POST /api/units/changes/:id/undo', { params: { id } })))) return
  forgetUnits()
  asking.value = null
  await changes.reload()
  emit('changed')
}
</script>

<template>
  <section class="stack">
    <h2>{{ t('units.latest') }}</h2>
    <LoadState
      v-slot="{ data }"
      :load="changes"
      :empty="changes.data.value?.length === 0"
      :empty-text="t('units.noChanges')"
    >
      <ul class="lines">
        <li v-for="line in data" :key="line.id">
          <span
            ><strong>{{ countsOf(line) }}</strong> {{ t(`units.source.${line.source}`)
            }}<span class="small quiet who"
              >{{ t('units.by', { by: line.by, at: words.moment(line.at) })
              }}<template v-if="line.undone">
                · {{ t('units.undone', { by: line.undone.by, at: words.moment(line.undone.at) }) }}</template
              ></span
            ></span
          >
          <Button
            v-if="line.undoable"
            size="small"
            severity="secondary"
            outlined
            :label="t('units.undo')"
            @click="asking = line"
          />
          <span v-else-if="!line.undone" class="small quiet">{{ t('units.notUndoable') }}</span>
        </li>
      </ul>
    </LoadState>
    <AskDialog
      :visible="asking !== null"
      :title="t('units.undo')"
      :act="t('units.undo')"
      :busy="busy"
      :problem="problem"
      @update:visible="asking = null"
      @go="undo"
    >
      <p>{{ t('units.undoAsk') }}</p>
      <p v-if="asking" class="quiet">{{ countsOf(asking) }}</p>
    </AskDialog>
  </section>
</template>

<style scoped>
.lines {
  list-style: none;
  margin: 0;
  padding: 0;
}
.lines li {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 12px;
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}
.who {
  display: block;
}
</style>
