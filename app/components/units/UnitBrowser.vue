<script setup lang="ts">
import type { UnitLine } from '#core/contract/units'
import type { Units } from '~/units/useUnits'

/** The tree, opened branch by branch, and the search that finds a unit by part of its name, with its path. */
const { units, chosen } = defineProps<{ units: Units; chosen: string | null }>()
const emit = defineEmits<{ choose: [code: string] }>()
const { t } = useI18n()
/** A node is called what it shows, and its arrow only repeats what the keys → and ← do. */
const NAMES = { node: { 'aria-label': null }, nodeToggleButton: { 'aria-hidden': true } }
const typed = ref('')
const closedToo = ref(false)
const expanded = ref<Record<string, boolean>>({})
const found = computed(() => units.find(typed.value))
const isShown = (unit: UnitLine) => closedToo.value || unit.open

interface UnitNode {
  key: string
  label: string
  leaf: boolean
  data: UnitLine
  children: UnitNode[]
}
/** Nodes of opened branches only: ten thousand facilities are not all drawn at once. */
const nodesBelow = (code: string | null): UnitNode[] =>
  (units.children.value.get(code) ?? []).filter(isShown).map(unit => ({
    key: unit.code,
    label: unit.name,
    data: unit,
    leaf: !(units.children.value.get(unit.code) ?? []).some(isShown),
    children: expanded.value[unit.code] ? nodesBelow(unit.code) : [],
  }))
const nodes = computed(() => nodesBelow(null))

// What is chosen is in sight.
watch(
  () => chosen,
  code => {
    if (!code) return
    if (units.byCode.value.get(code)?.open === false) closedToo.value = true
    expanded.value = {
      ...expanded.value,
      ...Object.fromEntries(units.above(code).map(unit => [unit.code, true])),
    }
  },
  { immediate: true },
)
onMounted(() => {
  const [top, second] = units.children.value.get(null) ?? []
  if (top && !second) expanded.value = { ...expanded.value, [top.code]: true }
})
</script>

<template>
  <div class="browser">
    <div class="search">
      <InputText
        v-model="typed"
        fluid
        type="search"
        :placeholder="t('units.search')"
        :aria-label="t('units.search')"
      />
      <label class="small"><input v-model="closedToo" type="checkbox" /> {{ t('units.showClosed') }}</label>
    </div>
    <template v-if="typed.trim()">
      <p class="count small quiet" role="status">
        {{ found.count ? t('units.results', { count: found.count }, found.count) : t('units.none') }}
      </p>
      <ul class="hits">
        <li v-for="unit in found.units" :key="unit.code">
          <button
            type="button"
            :class="{ chosen: unit.code === chosen }"
            :aria-current="unit.code === chosen ? 'true' : undefined"
            @click="emit('choose', unit.code)"
          >
            <strong>{{ unit.name }}</strong> <WordTag v-if="!unit.open">{{ t('units.closed') }}</WordTag>
            <span class="small quiet">{{ units.pathText(unit.code) }}</span>
          </button>
        </li>
      </ul>
    </template>
    <Tree
      v-else
      v-model:expanded-keys="expanded"
      :value="nodes"
      selection-mode="single"
      :selection-keys="chosen ? { [chosen]: true } : {}"
      :aria-label="t('units.title')"
      class="tree"
      :pt="NAMES"
      @node-select="emit('choose', $event.key)"
    >
      <template #default="{ node }"
        ><span :class="{ quiet: !node.data.open }">{{ node.label }}</span
        >{{ ' ' }} <WordTag v-if="!node.data.open">{{ t('units.closed') }}</WordTag></template
      >
    </Tree>
  </div>
</template>

<style scoped>
.search {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 0 14px 10px;
  border-bottom: 1px solid var(--line);
}
.count {
  padding: 8px 16px 2px;
}
.hits {
  list-style: none;
  margin: 0;
  padding: 0;
}
.hits button {
  width: 100%;
  padding: 7px 16px;
  border: 0;
  border-left: 4px solid transparent;
  border-bottom: 1px solid var(--line);
  background: none;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
.hits button:hover {
  background: var(--amber-0);
}
.hits button.chosen {
  background: var(--amber-1);
  border-left-color: var(--amber-5);
}
.hits .quiet {
  display: block;
}
.tree {
  padding: 8px 6px;
  background: none;
}
</style>
