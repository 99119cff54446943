<script setup lang="ts">
import type { ConflictSides, OpenConflict, ReportFile } from '#core/contract/reports'
import { groupBy } from '#core/group-by'
import type { CellContent } from '#core/report/cell'

/**
 * What several devices gave for the same cells, side by side with what stands there: decided cell by cell, or for
 * a whole side. Nothing is chosen beforehand.
 */
const { file, nameOf, shown } = defineProps<{
  file: ReportFile
  nameOf: (cell: string) => string
  shown: (cell: string, content: CellContent) => string
}>()
const emit = defineEmits<{ changed: [] }>()
const words = useWords()
const { t } = words
const session = useSession()
const params = computed(() => ({ round: file.round.id, unit: file.unit.code }))
const sides = useLoad(
  () => callApi('GET /api/reports/:round/:unit/conflicts', { params: params.value }),
  () => [file.round.id, file.unit.code, file.conflicts.length],
)
/** What is there to choose from for one cell: what stands, then each that came. */
interface Option {
  key: string
  content: CellContent
  says: string
}
const STANDS = 'stands'
const storedOf = (cell: string) => file.cells.find(one => one.cell === cell)
const standsIn = (cell: string): CellContent => storedOf(cell)?.content ?? { kind: 'blank' }
const whoText = ({ by, device, at }: { by: string; device: string | null; at: string }) =>
  [by, device, words.moment(at)].filter(Boolean).join(' · ')
function rowsOf({ conflicts, standing }: ConflictSides) {
  const standingOf = new Map(standing.map(one => [one.cell, one]))
  return [...groupBy(conflicts, ({ cell }) => cell)].map(([cell, came]) => {
    const own = standingOf.get(cell)
    const options: Option[] = [
      { key: STANDS, content: standsIn(cell), says: own ? whoText(own) : '' },
      ...came.map(one => ({ key: one.id, content: one.content, says: whoText(one) })),
    ]
    return { cell, options, seen: came.map(({ id }) => id) }
  })
}
const rows = computed(() => (sides.data.value ? rowsOf(sides.data.value) : []))
/** Who gave other values: a side that can be taken whole. */
const others = computed(() => [
  ...groupBy(sides.data.value?.conflicts ?? [], ({ by, device }) => [by, device].filter(Boolean).join(', ')),
])
const chosen = reactive<Record<string, string>>({})
function chooseAll(side: readonly OpenConflict[] | null) {
  for (const { cell } of rows.value) {
    const own = side?.findLast(one => one.cell === cell)
    if (side === null) chosen[cell] = STANDS
    else if (own) chosen[cell] = own.id
  }
}
const decided = computed(() => rows.value.filter(({ cell }) => chosen[cell]))
const { busy, problem, run } = useAct()
async function settle() {
  const decisions = decided.value.map(({ cell, options, seen }) => ({
    cell,
    base: storedOf(cell)?.version ?? 0,
    content: options.find(({ key }) => key === chosen[cell])!.content,
    seen,
  }))
  const body = { decisions }
  if (await run(() => callApi('POST /api/reports/:round/:unit/conflicts', { params: params.value, body })))
    emit('changed')
}
</script>

<template>
  <section class="card stack conflicts" aria-labelledby="two-versions">
    <h2 id="two-versions">{{ t('conflicts.title') }}</h2>
    <p class="small quiet">{{ t('conflicts.say') }}</p>
    <LoadState :load="sides">
      <div v-if="session.can('resolve')" class="row">
        <Button
          size="small"
          severity="secondary"
          outlined
          :label="t('conflicts.allStands')"
          @click="chooseAll(null)"
        />
        <Button
          v-for="[name, side] in others"
          :key="name"
          size="small"
          severity="secondary"
          outlined
          :label="t('conflicts.allOf', { name })"
          @click="chooseAll(side)"
        />
      </div>
      <fieldset v-for="row in rows" :key="row.cell">
        <legend>{{ nameOf(row.cell) }}</legend>
        <div class="sides">
          <label
            v-for="one in row.options"
            :key="one.key"
            :class="['side', { on: chosen[row.cell] === one.key }]"
          >
            <RadioButton
              v-if="session.can('resolve')"
              v-model="chosen[row.cell]"
              :name="`conflict ${row.cell}`"
              :value="one.key"
            />
            <span
              ><strong>{{ shown(row.cell, one.content) }}</strong>
              <span class="small quiet"
                >{{ t(one.key === STANDS ? 'conflicts.stands' : 'conflicts.came') }} · {{ one.says }}</span
              ></span
            >
          </label>
        </div>
      </fieldset>
      <ProblemNote :problem="problem" />
      <div v-if="session.can('resolve')">
        <Button
          :label="t('conflicts.settle', { count: decided.length }, decided.length)"
          :disabled="!decided.length"
          :loading="busy"
          @click="settle"
        />
      </div>
    </LoadState>
  </section>
</template>

<style scoped>
.conflicts {
  margin-bottom: 14px;
}
fieldset {
  margin: 0;
  padding: 6px 0;
  border: 0;
  border-bottom: 1px solid var(--line);
}
legend {
  padding: 0;
  font-weight: 600;
}
.sides {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
  gap: 8px;
}
.side {
  display: flex;
  gap: 10px;
  align-items: flex-start;
  padding: 8px 10px;
  border: 1px solid var(--line);
  border-radius: 8px;
}
.side.on {
  background: var(--amber-1);
}
.side strong,
.side .small {
  display: block;
}
</style>
