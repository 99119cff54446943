<script setup lang="ts">
import type { CodesTaken } from '#core/contract/sending'

/** Many codes at once: two columns of a spreadsheet, our code or name and theirs. */
const { recipient, dataset } = defineProps<{ recipient: string; dataset: string }>()
const emit = defineEmits<{ taken: [] }>()
const { t } = useI18n()
const text = ref('')
const taken = shallowRef<CodesTaken | null>(null)
const { busy, problem, run } = useAct()
async function take() {
  await run(async () => {
    taken.value = await callApi('POST /api/recipients/:id/codes/pasted', {
      params: { id: recipient },
      body: { dataset, text: text.value },
    })
    if (!taken.value.passedOver.length) text.value = ''
    emit('taken')
  })
}
</script>

<template>
  <form class="card stack" @submit.prevent="take">
    <h2>{{ t('codes.paste') }}</h2>
    <div class="field">
      <label for="codes-pasted">{{ t('codes.pasteLabel') }}</label><Textarea
        id="codes-pasted"
        v-model="text"
        rows="5"
        required
        maxlength="200000"
        aria-describedby="codes-pasted-hint"
      /><small id="codes-pasted-hint" class="quiet">{{ t('codes.pasteHint') }}</small>
    </div>
    <ProblemNote :problem="problem" />
    <div v-if="taken" role="status" class="stack">
      <p>{{ t('codes.taken', { count: taken.taken }, taken.taken) }}</p>
      <template v-if="taken.passedOver.length">
        <p>{{ t('codes.passedOver') }}</p>
        <ul>
          <li v-for="line in taken.passedOver" :key="line.line" class="small">
            {{ t('codes.line', { line: line.line, text: line.text, why: t(`codes.why.${line.why}`) }) }}
          </li>
        </ul>
      </template>
    </div>
    <div class="row"><Button type="submit" :label="t('codes.take')" :loading="busy" /></div>
  </form>
</template>
