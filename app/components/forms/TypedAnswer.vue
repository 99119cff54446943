<script setup lang="ts">
import { exampleOf } from '#core/expression/pattern-example'
import { LONGEST_IDENTIFIER, LONGEST_TEXT, type AnswerValue, type Position } from '#core/form/answer'
import type { AnswerQuestion } from '#core/form/question'
import { isTypedNumber } from '#core/report/asked'
import { readNumber } from '#core/report/read-number'

/**
 * An answer that is typed: text, number, day, partial day, time, position. It is given when the field is
 * left, or at each key of a number.
 */
const { question, inputId, value } = defineProps<{
  question: AnswerQuestion
  inputId: string
  value: AnswerValue | null
}>()
const emit = defineEmits<{ give: [value: AnswerValue | null] }>()
const words = useWords()
const { t, locale } = words
const LONG_TEXT = 200
/** The field ends where the answer would be refused. */
const longest = computed(() =>
  question.kind === 'text'
    ? (question.longest ?? LONGEST_TEXT)
    : question.kind === 'identifier'
      ? LONGEST_IDENTIFIER
      : undefined,
)
/** A text that must have a form shows one that has it. */
const example = computed(() =>
  'pattern' in question && question.pattern ? (exampleOf(question.pattern) ?? undefined) : undefined,
)
const isNumber = computed(() => isTypedNumber(question.kind))
const isLong = computed(() => question.kind === 'text' && (question.longest ?? 0) > LONG_TEXT)
const inputType = computed(
  () => (({ date: 'date', time: 'time' }) as Record<string, string>)[question.kind] ?? 'text',
)
const textOf = (of: AnswerValue | null) =>
  of === null || typeof of === 'object' ? '' : typeof of === 'number' ? words.typed(of) : String(of)
const text = ref(textOf(value))
const readTyped = (typed: string): AnswerValue | null => {
  const read = isNumber.value
    ? readNumber(typed, question.kind === 'wholeNumber' ? 'count' : 'decimal', locale.value)
    : undefined
  // What is no number, or could be two, goes to core as it is, which says so.
  return read?.ok ? read.value : typed.trim() || null
}
watch(
  () => value,
  next => {
    if (next !== readTyped(text.value)) text.value = textOf(next)
  },
)
function given() {
  emit('give', readTyped(text.value))
}
function atKey() {
  if (isNumber.value) given()
}
/** Day, month and year of a partial date: the year is enough. */
const parts = ref(['', '', ''])
watch(
  () => value,
  next => {
    if (question.kind === 'partialDate') parts.value = textOf(next).split('-').concat('', '').slice(0, 3)
  },
  { immediate: true },
)
function partGiven() {
  const [year, month, day] = parts.value.map(part => part.trim()) as [string, string, string]
  if (!year) {
    emit('give', null)
    return
  }
  emit(
    'give',
    [year, month && month.padStart(2, '0'), month && day && day.padStart(2, '0')].filter(Boolean).join('-'),
  )
}
const place = ref(['', ''])
watch(
  () => value,
  next => {
    const position = next as Position | null
    if (question.kind === 'position' && position)
      place.value = [String(position.latitude), String(position.longitude)]
  },
  { immediate: true },
)
const accuracy = ref<number | null>(null)
const noPlace = ref<string | null>(null)
const finding = ref(false)
async function findPlace() {
  finding.value = true
  noPlace.value = null
  try {
    const { accuracy: metres, latitude, longitude } = await findPosition()
    accuracy.value = metres
    emit('give', { latitude, longitude, accuracy: Math.round(metres) })
  } catch (error) {
    if (!(error instanceof HardwareFailed)) throw error
    noPlace.value = t(`hardware.${error.code}`)
  } finally {
    finding.value = false
  }
}
/** What a scanner reads: the fake scanner at once, else the camera's picture is looked at for a square. */
const scanning = ref(false)
function scan() {
  const code = fakeCode()
  if (code) scanned(code)
  else scanning.value = true
}
function scanned(code: string) {
  scanning.value = false
  text.value = code
  given()
}
function placeGiven() {
  const [latitude, longitude] = place.value.map(one => one.trim().replace(',', '.'))
  if (!latitude && !longitude) {
    emit('give', null)
    return
  }
  if (latitude && longitude) emit('give', { latitude: Number(latitude), longitude: Number(longitude) })
}
</script>

<template>
  <div v-if="question.kind === 'partialDate'" class="row" role="group" :aria-labelledby="`${inputId}-label`">
    <InputText
      v-for="(name, at) in ['year', 'month', 'day'] as const"
      :id="at === 0 ? inputId : undefined"
      :key="name"
      v-model="parts[at]"
      inputmode="numeric"
      :maxlength="at === 0 ? 4 : 2"
      :class="`of-${name}`"
      :aria-label="t(`answer.${name}`)"
      :placeholder="t(`answer.${name}`)"
      @change="partGiven"
    />
  </div>
  <div
    v-else-if="question.kind === 'position'"
    class="row"
    role="group"
    :aria-labelledby="`${inputId}-label`"
  >
    <InputText
      v-for="(name, at) in ['latitude', 'longitude'] as const"
      :id="at === 0 ? inputId : undefined"
      :key="name"
      v-model="place[at]"
      inputmode="decimal"
      class="degrees"
      :aria-label="t(`answer.${name}`)"
      :placeholder="t(`answer.${name}`)"
      @change="placeGiven"
    />
    <Button
      severity="secondary"
      outlined
      icon="pi pi-map-marker"
      :label="t('answer.here')"
      :loading="finding"
      @click="findPlace"
    />
    <span v-if="accuracy !== null" class="small quiet" role="status">{{
      t('answer.accuracy', { metres: Math.round(accuracy) })
    }}</span>
    <span v-if="noPlace" class="small says" role="alert">{{ noPlace }}</span>
  </div>
  <div v-else-if="question.kind === 'identifier'" class="stack">
    <div class="row">
      <InputText
        :id="inputId"
        v-model="text"
        :maxlength="longest"
        :placeholder="example"
        autocomplete="off"
        autocapitalize="characters"
        :aria-labelledby="`${inputId}-label`"
        @change="given"
      /><Button
        severity="secondary"
        outlined
        icon="pi pi-qrcode"
        :aria-label="t('answer.scan')"
        @click="scan"
      />
    </div>
    <SquareReader v-if="scanning" @found="scanned" @failed="scanning = false" />
  </div>
  <Textarea
    v-else-if="isLong"
    :id="inputId"
    v-model="text"
    :maxlength="longest"
    rows="3"
    auto-resize
    fluid
    :aria-labelledby="`${inputId}-label`"
    @change="given"
  />
  <InputText
    v-else
    :id="inputId"
    v-model="text"
    :maxlength="longest"
    :placeholder="example"
    :type="inputType"
    :inputmode="isNumber ? (question.kind === 'decimal' ? 'decimal' : 'numeric') : undefined"
    autocomplete="off"
    :class="{ digits: isNumber, day: inputType !== 'text' }"
    :aria-labelledby="`${inputId}-label`"
    @input="atKey"
    @change="given"
  />
</template>

<style scoped>
input {
  min-height: 44px;
}
.digits {
  width: 130px;
  text-align: right;
  font-size: 17px;
}
.day {
  width: 180px;
}
.of-year {
  width: 84px;
}
.of-month,
.of-day {
  width: 76px;
}
.degrees {
  width: 140px;
}
.says {
  color: var(--brick-7);
}
</style>
