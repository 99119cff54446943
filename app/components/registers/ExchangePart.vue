<script setup lang="ts">
import { formOfQuestionnaire } from '#core/exchange/questionnaire-in'
import type { NotCarried } from '#core/exchange/fhir-marks'
import { textOfBytes } from '#core/exchange/text'
import { codeFromLabel } from '#core/form/code'
import type { Form } from '#core/form/question'
import type { Problem } from '#core/result'
import type { FormInWork, RegisterWork } from '~/define/useRegisterDraft'

/** A form to and from a FHIR Questionnaire; what could not be carried is listed. */
const { work, form } = defineProps<{ work: RegisterWork; form: FormInWork | null }>()
const emit = defineEmits<{ brought: [form: string] }>()
const words = useWords()
const { t, locale } = words
const result = shallowRef<{ way: 'out' | 'in'; lines: NotCarried[]; done: string } | null>(null)
const problem = shallowRef<Problem | null>(null)

function out() {
  const lines = saveQuestionnaire(JSON.parse(JSON.stringify(form!.form)) as Form, locale.value)
  result.value = { way: 'out', lines, done: words.say(form!.form.name) }
}
async function bring(file: File) {
  result.value = null
  problem.value = null
  let parsed: unknown
  try {
    parsed = JSON.parse(textOfBytes(new Uint8Array(await file.arrayBuffer())))
  } catch {
    problem.value = { code: 'file-not-json', message: '' }
    return
  }
  const read = formOfQuestionnaire(parsed)
  if (!read.ok) {
    problem.value = read.problems[0]!
    return
  }
  const code = codeFromLabel(
    read.value.form.code,
    work.draft.value!.forms.map(one => one.form.code),
  )
  const first = !work.draft.value!.forms.length
  work.draft.value!.forms.push({
    role: first ? 'registration' : 'followUp',
    many: !first,
    eventDate: '',
    form: { ...read.value.form, code },
  } as FormInWork)
  result.value = { way: 'in', lines: read.value.notCarried, done: words.say(read.value.form.name) }
  emit('brought', code)
}
</script>

<template>
  <section class="card stack">
    <h2>{{ t('exchange.title') }}</h2>
    <p class="small quiet">{{ t('exchange.hint') }}</p>
    <div class="row">
      <Button
        icon="pi pi-download"
        severity="secondary"
        outlined
        :label="form ? t('exchange.out', { name: words.say(form.form.name) }) : t('exchange.outNone')"
        :disabled="!form"
        @click="out"
      />
      <FileButton
        icon="pi-upload"
        :label="t('exchange.in')"
        accept=".json,application/json,application/fhir+json"
        @file="bring"
      />
    </div>
    <Message v-if="problem" severity="error" :closable="false" role="alert">{{
      words.problem(problem)
    }}</Message>
    <CarriedThings v-if="result" :way="result.way" :lines="result.lines" :name="result.done" />
  </section>
</template>
