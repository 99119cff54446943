<script setup lang="ts">
import type { NotCarried } from '#core/exchange/fhir-marks'
import { formOfEdition } from '#core/form/form-of-edition'
import type { Edition } from '#core/report/edition'
import type { Problem } from '#core/result'

/** The dataset as a FHIR Questionnaire, for programs that read forms by the standard. */
const { definition } = defineProps<{ definition: Edition }>()
const words = useWords()
const { t, locale } = words
const lines = shallowRef<NotCarried[] | null>(null)
const problem = shallowRef<Problem | null>(null)

function save() {
  const form = formOfEdition(JSON.parse(JSON.stringify(definition)) as Edition)
  problem.value = form.ok ? null : form.problems[0]!
  lines.value = form.ok ? saveQuestionnaire(form.value, locale.value) : null
}
</script>

<template>
  <section class="card stack">
    <h2>{{ t('exchange.title') }}</h2>
    <p class="small quiet">{{ t('exchange.datasetHint') }}</p>
    <div class="row">
      <Button
        icon="pi pi-download"
        severity="secondary"
        outlined
        :label="t('exchange.out', { name: words.say(definition.name) })"
        @click="save"
      />
    </div>
    <Message v-if="problem" severity="error" :closable="false" role="alert">{{
      words.problem(problem)
    }}</Message>
    <CarriedThings v-if="lines" way="out" :lines="lines" :name="words.say(definition.name)" />
  </section>
</template>
