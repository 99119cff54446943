<script setup lang="ts">
/** What reminders would say and to whom, before they are sent; and who gets none, with why. */
const { round, units } = defineProps<{ round: string; units: readonly string[] }>()
const visible = defineModel<boolean>('visible', { required: true })
const emit = defineEmits<{ asked: [ids: string[]] }>()
const words = useWords()
const { t } = words
const { busy, problem, run } = useAct()
const preview = useLoad(
  async () =>
    visible.value
      ? callApi('POST /api/rounds/:round/nudges/preview', { params: { round }, body: { units: [...units] } })
      : null,
  () => [visible.value, round, ...units],
)
const count = computed(() => preview.data.value?.messages.length ?? 0)
const canSend = computed(() => count.value > 0 && preview.data.value?.hasGateway === true)
async function send() {
  const done = await run(async () => {
    const { ids } = await callApi('POST /api/rounds/:round/nudges', {
      params: { round },
      body: { units: [...units] },
    })
    emit('asked', ids)
  })
  if (done) visible.value = false
}
</script>

<template>
  <AskDialog
    v-model:visible="visible"
    :title="t('nudge.title')"
    :act="t('nudge.send', { count }, count)"
    :busy="busy"
    :problem="problem"
    :disabled="!canSend"
    @go="send"
  >
    <LoadState v-slot="{ data }" :load="preview">
      <div class="stack">
        <Message v-if="!data.hasGateway" severity="warn" :closable="false">{{
          t('nudge.noGateway')
        }}</Message>
        <p v-else-if="data.quietUntil && count" class="quiet">
          {{ t('nudge.quietUntil', { at: words.moment(data.quietUntil) }) }}
        </p>
        <ul class="plain-list messages" tabindex="0" :aria-label="t('nudge.messages')">
          <li v-for="one in data.messages" :key="one.unit.code + one.phone">
            <p>
              <strong>{{ one.unit.name }}</strong>{{ ' ' }}
              <span class="small quiet"> {{ one.name }}, {{ one.phone }}</span>
            </p>
            <p>{{ one.text }}</p>
            <p v-if="one.parts > 1" class="small quiet">
              {{ t('nudge.parts', { count: one.parts }, one.parts) }}
            </p>
          </li>
        </ul>
        <div v-if="data.left.length">
          <h3>{{ t('nudge.left') }}</h3>
          <ul class="plain-list">
            <li v-for="one in data.left" :key="one.unit.code" class="small">
              <NuxtLink :to="facilityFileLink(one.unit.code)">{{ one.unit.name }}</NuxtLink>:
              {{ t(`nudge.why.${one.why}`) }}
            </li>
          </ul>
        </div>
      </div>
    </LoadState>
  </AskDialog>
</template>

<style scoped>
.messages {
  max-height: 320px;
  overflow: auto;
}
.messages li {
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}
</style>
