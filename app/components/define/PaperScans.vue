<script setup lang="ts">
/** Scanned pages of the paper beside the work: put in, looked at large, taken away. */
const { kind, code } = defineProps<{ kind: 'dataset' | 'register'; code: string }>()
const words = useWords()
const { t } = words
const params = computed(() => ({ kind, code }))
const pages = useLoad(
  () => callApi('GET /api/papers/:kind/:code', { params: params.value }),
  () => code,
)
const shown = ref(0)
const large = ref(false)
const removing = ref(false)
const { busy, problem, run } = useAct()
const page = computed(() => pages.data.value?.[Math.min(shown.value, (pages.data.value?.length ?? 1) - 1)])
const source = computed(() =>
  page.value
    ? addressOf('GET /api/papers/:kind/:code/:id', { params: { ...params.value, id: page.value.id } })
    : '',
)

async function put(file: File) {
  await run(async () => {
    const base64 = await base64Of(file)
    await callApi('POST /api/papers/:kind/:code', { params: params.value, body: { base64 } })
    await pages.reload()
    shown.value = (pages.data.value?.length ?? 1) - 1
  })
}
async function remove() {
  if (
    await run(async () => {
      await callApi('DELETE /api/papers/:kind/:code/:id', { params: { ...params.value, id: page.value!.id } })
      await pages.reload()
    })
  )
    removing.value = false
}
</script>

<template>
  <section class="stack" :aria-label="t('paper.scans')">
    <LoadState :load="pages">
      <p v-if="!page" class="small quiet">{{ t('paper.none') }}</p>
      <template v-else>
        <button type="button" class="page" :aria-label="t('paper.large')" @click="large = true">
          <img :src="source" :alt="t('paper.page', { number: shown + 1 })" />
        </button>
        <div class="row">
          <Button
            text
            size="small"
            icon="pi pi-angle-left"
            :aria-label="t('paper.before')"
            :disabled="shown === 0"
            @click="shown--"
          />
          <span class="small">{{ shown + 1 }} / {{ pages.data.value!.length }}</span>
          <Button
            text
            size="small"
            icon="pi pi-angle-right"
            :aria-label="t('paper.after')"
            :disabled="shown >= pages.data.value!.length - 1"
            @click="shown++"
          />
          <Button
            text
            size="small"
            severity="secondary"
            icon="pi pi-trash"
            :aria-label="t('paper.remove')"
            @click="removing = true"
          />
        </div>
      </template>
    </LoadState>
    <FileButton
      icon="pi-upload"
      :label="t('paper.put')"
      accept="image/png,image/jpeg,image/webp"
      :disabled="busy"
      @file="put"
    />
    <ProblemNote v-if="!removing" :problem="problem" />
    <Dialog
      v-model:visible="large"
      modal
      maximizable
      :header="t('paper.page', { number: shown + 1 })"
      :style="{ width: '90vw' }"
      ><img :src="source" :alt="t('paper.page', { number: shown + 1 })" class="whole"
    /></Dialog>
    <AskDialog
      v-model:visible="removing"
      :title="t('paper.remove')"
      :act="t('paper.remove')"
      :busy="busy"
      :problem="problem"
      @go="remove"
      ><p>{{ t('paper.removeAsk') }}</p></AskDialog
    >
  </section>
</template>

<style scoped>
.page {
  padding: 0;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--card);
  cursor: zoom-in;
  overflow: hidden;
}
.page img {
  display: block;
  width: 100%;
  max-height: 480px;
  object-fit: contain;
}
.whole {
  width: 100%;
}
</style>
