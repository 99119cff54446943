<script setup lang="ts">
import { parseDay } from '#core/calendar/day'
import type { Problem } from '#core/result'

/**
 * A day, shown in the page's language: the browser's own field speaks the browser's. Chosen from a calendar,
 * or typed as it is shown, as 2026-11-09, or as 9/11/2026.
 */
const {
  inputId,
  label,
  required = false,
} = defineProps<{
  inputId?: string
  /** Said to a screen reader where there is no label beside the field. */
  label?: string
  required?: boolean
}>()
const words = useWords()
/** As 2026-11-09; empty where none is chosen. */
const day = defineModel<string>({ required: true })

const two = (of: number) => String(of).padStart(2, '0')
const printLocal = (of: Date) => `${of.getFullYear()}-${two(of.getMonth() + 1)}-${two(of.getDate())}`

/** The calendar works with the browser's own days. */
const chosen = computed(() => {
  const [year, month, date] = day.value.split('-').map(Number)
  return year && month && date ? new Date(year, month - 1, date) : null
})

/** A typed day; undefined while it is none yet. */
function readDay(text: string): string | undefined {
  const [, date, month, year] = /^(\d{1,2})[./](\d{1,2})[./](\d{4})$/.exec(text.trim()) ?? []
  const iso = year ? `${year}-${two(Number(month))}-${two(Number(date))}` : text.trim()
  return parseDay(iso).ok ? iso : undefined
}

/** Why what was typed is no day: said below the field, which goes back to the day before. */
const problem = shallowRef<Problem | null>(null)
/** Typed, and neither the calendar nor this field could read it yet. */
let unread = ''
let isRead = false

/** What the calendar gives: a day, or nothing. It gives what it could read before it tells of the typing. */
function give(value: unknown) {
  isRead = true
  day.value = value instanceof Date ? printLocal(value) : ''
}
function type(event: Event) {
  const text = (event.target as HTMLInputElement).value
  const iso = readDay(text)
  if (iso) day.value = iso
  unread = isRead || iso ? '' : text
  isRead = false
}
/** The problem changes only now: the calendar writes its field anew with each change, also over what is being typed. */
function leave() {
  const read = unread ? parseDay(unread.trim()) : null
  problem.value = read && !read.ok ? { ...read.problems[0]!, values: { text: unread } } : null
  unread = ''
}

/**
 * The calendar of PrimeVue 4.5 says of a day that it is selected, which only a cell may, and hides the shown
 * month and year behind another name: axe finds both.
 */
const SAID = {
  day: ({ context }: { context: { selected: boolean } }) => ({
    'aria-selected': null,
    'aria-current': context.selected ? 'date' : null,
  }),
  selectMonth: { 'aria-label': null },
  selectYear: { 'aria-label': null },
}
</script>

<template>
  <span class="day"
    ><DatePicker
      :model-value="chosen"
      :input-id="inputId"
      date-format="d M yy"
      show-icon
      icon-display="input"
      :invalid="problem !== null"
      :pt="{ ...SAID, pcInputText: { root: { required, 'aria-label': label } } }"
      fluid
      @update:model-value="give"
      @input="type"
      @blur="leave"
    /><small v-if="problem" role="alert" class="unread">{{ words.problem(problem) }}</small></span
  >
</template>

<style scoped>
.day {
  display: inline-flex;
  flex-direction: column;
  width: 170px;
}
.unread {
  color: var(--brick-7);
}
</style>
