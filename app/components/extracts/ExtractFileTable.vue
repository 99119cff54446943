<script setup lang="ts">
import type { ExtractFileLine } from '#core/contract/extracts'
import type { Tone } from '~/components/common/WordTag.vue'

/** Files that were asked for: who, what, how many rows, and what became of each. */
const { lines, label } = defineProps<{ lines: readonly ExtractFileLine[]; label: string }>()
const emit = defineEmits<{ stop: [id: string] }>()
const words = useWords()
const { t } = words
const deliverySays = useDeliveryWords()
const TONES: Readonly<Record<ExtractFileLine['state'], Tone>> = {
  ...{
    waiting: 'amber',
    ready: 'moss',
    failed: 'brick',
    stopped: 'plain',
    expired: 'plain',
    written: 'moss',
    sending: 'amber',
    sent: 'moss',
    refused: 'brick',
  },
}
/** Problems of ours have words; of what was refused the recipient says why. */
const problemText = ({ state, problem }: ExtractFileLine) =>
  state === 'refused'
    ? problem
    : (deliverySays(problem!) ?? words.problem({ code: problem!, message: problem! }))
const namesOf = ({ extracts }: ExtractFileLine) => extracts.map(({ name }) => name).join(', ')
const isPersonal = ({ extracts }: ExtractFileLine) => extracts.some(({ personal }) => personal)
</script>

<template>
  <DataTable :value="[...lines]" data-key="id" :table-props="{ 'aria-label': label }">
    <Column :header="t('extract.file')"
      ><template #body="{ data: one }"
        ><strong>{{ one.name }}</strong>
        <p class="small quiet">
          {{ one.by }} · {{ words.moment(one.at) }}
          <template v-if="one.extracts.length > 1"> · {{ namesOf(one) }}</template>
        </p></template
      ></Column
    >
    <Column :header="t('extract.lines')" class="num"
      ><template #body="{ data: one }"
        >{{ words.number(one.rows) }}
        <WordTag v-if="isPersonal(one)" tone="amber">{{ t('extract.personal') }}</WordTag></template
      ></Column
    >
    <Column :header="t('files.state')"
      ><template #body="{ data: one }"
        ><WordTag :tone="TONES[(one as ExtractFileLine).state]">{{
          t(`extract.state.${one.state}`)
        }}</WordTag>
        <p v-if="one.state === 'ready' && one.expiresAt" class="small quiet">
          {{ t('extract.until', { at: words.moment(one.expiresAt) }) }}
        </p>
        <p v-if="one.recipient" class="small quiet">
          {{ t('extract.toRecipient', { name: one.recipient.name }) }}
          <template v-if="one.receipt">{{ t('extract.receipt', { receipt: one.receipt }) }}</template>
        </p>
        <p v-if="one.problem" class="small bad">{{ problemText(one as ExtractFileLine) }}</p>
        <p v-if="one.problem && one.nextAt" class="small quiet">
          {{ t('extract.nextAt', { at: words.moment(one.nextAt) }) }}
        </p>
        <RefusedRows v-if="one.refusedCount" :rows="one.refused" :count="one.refusedCount" /></template
    ></Column>
    <Column
      ><template #header
        ><span class="visually-hidden">{{ t('extract.download') }}</span></template
      ><template #body="{ data: one }"
        ><a v-if="one.mine && one.state === 'ready'" :href="extractFileLink(one.id)" download>{{
          t('extract.downloadSize', { size: words.bytes(one.bytes) })
        }}</a
        ><Button
          v-else-if="one.mine && (one.state === 'waiting' || one.state === 'sending')"
          size="small"
          severity="secondary"
          text
          :label="t('act.stop')"
          :aria-label="t('extract.stop', { name: one.name })"
          @click="emit('stop', one.id)" /></template
    ></Column>
  </DataTable>
</template>
