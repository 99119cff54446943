<script setup lang="ts">
import type { CarriedIn } from '#core/contract/desk'

/** Takes in a file that was carried from a device, and says what became of what is in it. */
const emit = defineEmits<{ taken: [] }>()
const words = useWords()
const { t } = words
const { busy, problem, run } = useAct()
const taken = shallowRef<CarriedIn | null>(null)
async function read(file: File) {
  taken.value = null
  await run(async () => {
    taken.value = await callApi('POST /api/carried', { body: { file: (await file.text()).trim() } })
    emit('taken')
  })
}
</script>

<template>
  <section class="card stack">
    <h2>{{ t('carry.inTitle') }}</h2>
    <p class="quiet small">{{ t('carry.inHint') }}</p>
    <FileButton icon="pi-upload" :label="t('carry.in')" accept=".lantern" :disabled="busy" @file="read" />
    <ProblemNote :problem="problem" />
    <div v-if="taken" role="status">
      <p>
        <strong>{{
          t('carry.inFrom', { device: taken.device, unit: taken.unit.name, person: taken.person })
        }}</strong>
      </p>
      <p>
        {{
          t('carry.inCounts', {
            received: taken.received,
            had: taken.alreadyHad,
            conflicts: taken.conflicts,
            refused: taken.refused.length,
            files: taken.files,
          })
        }}
      </p>
      <ul v-if="taken.refused.length">
        <li v-for="(one, at) in taken.refused" :key="at" class="small">{{ words.problem(one) }}</li>
      </ul>
      <p class="small quiet">{{ t('carry.inBack') }}</p>
    </div>
  </section>
</template>
