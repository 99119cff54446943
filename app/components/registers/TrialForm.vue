<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { compileForm } from '#core/form/compile-form'
import type { Form } from '#core/form/question'
import { UNITS_HERE } from '~/units/useUnits'

/**
 * The form as on a phone, to be filled for trial. What was answered stays while the form changes, as far as
 * it has a place.
 */
const { form } = defineProps<{ form: Form }>()
const words = useWords()
const { t } = words
const units = inject(UNITS_HERE)!
/** How long the form must be quiet before the trial follows it. */
const WAIT = 500
const copy = () => JSON.parse(JSON.stringify(form)) as Form
const result = shallowRef(compileForm(copy()))
const compiled = shallowRef(result.value.ok ? result.value.value : null)
const work = shallowRef<FillingWork | null>(null)
const options = () => ({
  today: words.today(),
  unitWithin: (unit: string, branch: string) =>
    unit === branch || units.above(unit).some(({ code }) => code === branch),
})
function begin() {
  if (!compiled.value) return
  if (work.value) work.value.open()
  else work.value = useFilling(() => compiled.value!, {}, options)
}
begin()
watchDebounced(
  () => form,
  () => {
    result.value = compileForm(copy())
    if (!result.value.ok) return
    compiled.value = result.value.value
    begin()
  },
  { deep: true, debounce: WAIT },
)
</script>

<template>
  <PhoneFrame :title="words.say(form.name) || form.code">
    <p v-if="!result.ok" class="wait small">
      {{ t(compiled ? 'question.trialOld' : 'question.trialNot') }} {{ words.problem(result.problems[0]!) }}
    </p>
    <FormFiller v-if="compiled && work" :compiled="compiled" :work="work" />
  </PhoneFrame>
</template>

<style scoped>
.wait {
  padding: 10px 16px;
  background: var(--amber-1);
  color: var(--amber-7);
}
</style>
