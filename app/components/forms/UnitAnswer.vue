<script setup lang="ts">
import type { UnitLine } from '#core/contract/units'
import type { AnswerValue } from '#core/form/answer'
import { splitKey } from '#core/form/outline'
import type { QuestionOf } from '#core/form/question'
import { contentAt } from '#core/form/filling'
import { UNITS_HERE } from '~/units/useUnits'
import type { FillingWork } from '~/cases/useFilling'

/**
 * A place of the whole installation, chosen down its own branch: only units of the level that is asked, below
 * the one that was answered before, the nearest first.
 */
const { question, inputId, value, work, answerKey } = defineProps<{
  question: QuestionOf<'unit'>
  inputId: string
  value: string | null
  work: FillingWork
  answerKey: string
}>()
const emit = defineEmits<{ give: [value: AnswerValue | null] }>()
const { t } = useI18n()
const units = inject(UNITS_HERE)!
const above = computed(() => {
  if (!question.cascade) return null
  const inside = splitKey(answerKey)
  const key =
    inside && work.contentOf(`${inside.repeat}/${inside.instance}/${question.cascade}`)
      ? `${inside.repeat}/${inside.instance}/${question.cascade}`
      : question.cascade
  const content = contentAt(work.filling.value, key)
  return content?.kind === 'value' ? String(content.value) : null
})
const MOST_SHOWN = 50
/** Where the person works: places near it come first. */
const own = useSession().view?.branch?.unit.code
/** What is heard of a choice is what is seen of it: its name with its path. */
const passThrough = computed(() => ({
  dropdown: { 'aria-label': t('filling.showAll') },
  option: ({ context }: { context: { option: UnitLine } }) => ({
    'aria-label': `${context.option.name} ${units.pathText(context.option.code)}`,
  }),
}))
const text = shallowRef<UnitLine | string | null>(value ? (units.byCode.value.get(value) ?? value) : null)
const hits = shallowRef<UnitLine[]>([])
const fits = (unit: UnitLine) =>
  unit.open &&
  unit.level === question.level &&
  (!above.value || units.above(unit.code).some(({ code }) => code === above.value))
function search(query: string) {
  if (query.trim()) {
    hits.value = units.find(query, fits, own).units
    return
  }
  const all = [...units.byCode.value.values()]
    .filter(fits)
    .map(unit => [unit, own ? units.nearness(unit.code, own) : 0] as const)
  hits.value = all
    .sort(([, one], [, other]) => other - one)
    .slice(0, MOST_SHOWN)
    .map(([unit]) => unit)
}
watch(text, next => {
  if (next === null || next === '') emit('give', null)
  else if (typeof next === 'object') emit('give', next.code)
})
/** What was answered by another way than this field: taken away, or carried over. */
watch(
  () => value,
  next => {
    if (next === null) text.value = null
    else if (typeof text.value !== 'object' || text.value?.code !== next)
      text.value = units.byCode.value.get(next) ?? next
  },
)
</script>

<template>
  <AutoComplete
    v-model="text"
    :input-id="inputId"
    :suggestions="hits"
    option-label="name"
    dropdown
    fluid
    force-selection
    :placeholder="t('filling.typeName')"
    :aria-labelledby="`${inputId}-label`"
    :pt="passThrough"
    @complete="search($event.query)"
  >
    <template #option="{ option }"
      ><span
        ><strong>{{ option.name }}</strong
        ><span class="small quiet path">{{ units.pathText(option.code) }}</span></span
      ></template
    >
  </AutoComplete>
</template>

<style scoped>
.path {
  display: block;
}
</style>
