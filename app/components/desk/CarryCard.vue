<script setup lang="ts">
/**
 * Sending by file where there is no network: pending changes go out in a file, and the reply comes in one.
 */
const { t } = useI18n()
const desk = useDesk()
const carry = useSendByFile()
const written = ref(0)
const taken = ref(false)
async function write() {
  written.value = await carry.write()
  taken.value = false
}
const read = async (file: File) => {
  taken.value = await carry.read(file)
}
</script>

<template>
  <section class="card stack">
    <h2>{{ t('carry.title') }}</h2>
    <p class="quiet small">{{ t('carry.hint') }}</p>
    <div class="row">
      <Button
        severity="secondary"
        outlined
        icon="pi pi-download"
        :label="t('carry.write')"
        :disabled="!desk.waiting.value"
        @click="write"
      />
      <FileButton icon="pi-upload" :label="t('carry.read')" accept=".lantern" @file="read" />
    </div>
    <p v-if="written" role="status" class="small">{{ t('carry.written', { count: written }, written) }}</p>
    <p v-if="taken" role="status" class="small">{{ t('carry.taken') }}</p>
    <p v-if="carry.problem.value" role="alert" class="wrong small">{{ carry.problem.value }}</p>
  </section>
</template>

<style scoped>
.wrong {
  color: var(--brick-7);
}
</style>
