<script setup lang="ts">
/** A dataset or the forms of a register on paper, as they are being defined: A4, with boxes to write in. */
const words = useWords()
const { t } = words
const route = useRoute()
const code = computed(() => String(route.params.code))
const load = useLoad(
  async () =>
    route.params.kind === 'register'
      ? {
          register: (await callApi('GET /api/registers/:register', { params: { register: code.value } }))
            .draft,
          edition: null,
        }
      : {
          register: null,
          edition: (await callApi('GET /api/drafts/:dataset', { params: { dataset: code.value } })).draft,
        },
  () => route.fullPath,
)
const title = computed(
  () => words.say(load.data.value?.edition?.name ?? load.data.value?.register?.name ?? {}) || code.value,
)
const print = () => window.print()
</script>

<template>
  <div class="page">
    <PageHead :title="title" class="no-print">
      <NuxtLink :to="`/define/${route.params.kind}/${code}`">{{ t('paper.back') }}</NuxtLink>
      <template #acts><Button icon="pi pi-print" :label="t('paper.print')" @click="print" /></template>
    </PageHead>
    <LoadState v-slot="{ data }" :load="load">
      <div class="sheet">
        <PaperDataset v-if="data.edition" :edition="data.edition" />
        <PaperForm
          v-for="one in data.register?.forms ?? []"
          :key="one.form.code"
          :form="one.form"
          :below="words.say(data.register!.name)"
          class="form"
        />
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.sheet {
  width: 210mm;
  max-width: 100%;
  padding: 14mm;
  margin: 0 auto;
  background: #fff;
  color: #000;
  border: 1px solid var(--line);
}
.form + .form {
  break-before: page;
  margin-top: 30px;
}
@media print {
  .no-print {
    display: none;
  }
  .page {
    padding: 0;
  }
  .sheet {
    width: auto;
    padding: 0;
    border: 0;
  }
}
</style>
