<script setup lang="ts">
import type { ReportFileLine } from '#core/contract/report-files'
import type { Tone } from '~/components/common/WordTag.vue'

/** The files of reports, and how far each is. */
const { lines } = defineProps<{ lines: readonly ReportFileLine[] }>()
const emit = defineEmits<{ open: [id: string] }>()
const words = useWords()
const { t } = words
const TONES: Readonly<Record<ReportFileLine['state'], Tone>> = {
  ...{ ready: 'plain', applying: 'amber', applied: 'moss', undoing: 'amber', undone: 'plain' },
}
const doneText = ({ counts: { done, undone, refused, kept, reports } }: ReportFileLine) =>
  [
    t('files.ofReports', { count: done + undone, all: reports }, reports),
    refused ? t('files.partsRefused', { count: refused }, refused) : '',
    kept ? t('files.partsKept', { count: kept }, kept) : '',
  ]
    .filter(Boolean)
    .join(' · ')
</script>

<template>
  <DataTable :value="[...lines]" data-key="id" :table-props="{ 'aria-label': t('files.earlier') }">
    <Column :header="t('files.file')"
      ><template #body="{ data: one }"
        ><strong>{{ one.name }}</strong>
        <p class="small quiet">{{ one.by }} · {{ words.moment(one.at) }}</p></template
      ></Column
    >
    <Column :header="t('files.state')"
      ><template #body="{ data: one }"
        ><WordTag :tone="TONES[(one as ReportFileLine).state]">{{ t(`files.is.${one.state}`) }}</WordTag>
        <p class="small quiet">{{ doneText(one) }}</p></template
      ></Column
    >
    <Column
      ><template #header
        ><span class="visually-hidden">{{ t('act.open') }}</span></template
      ><template #body="{ data: one }"
        ><Button
          size="small"
          severity="secondary"
          text
          :label="t('act.open')"
          :aria-label="t('files.open', { name: one.name })"
          @click="emit('open', one.id)" /></template
    ></Column>
  </DataTable>
</template>
