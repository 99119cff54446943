<script setup lang="ts">
import { LONGEST_CODE, type CodeLine } from '#core/contract/sending'
import { CAN_BE_LEFT_OUT } from '#core/sending/codes'

/** Our codes with those of a recipient: each is saved when its field is left. */
const { lines } = defineProps<{ lines: readonly CodeLine[] }>()
const emit = defineEmits<{ save: [line: CodeLine, theirs: string | null | undefined] }>()
const words = useWords()
const { t } = words
const TONES = { missing: 'brick', twice: 'amber', form: 'amber' } as const
const idOf = ({ kind, ours }: CodeLine) => `code-${kind}-${ours}`
function changed(line: CodeLine, event: Event) {
  const theirs = (event.target as HTMLInputElement).value.trim()
  if (theirs !== (line.theirs ?? '')) emit('save', line, theirs || undefined)
}
</script>

<template>
  <DataTable
    :value="[...lines]"
    :data-key="(line: CodeLine) => idOf(line)"
    :table-props="{ 'aria-label': t('codes.title') }"
  >
    <Column :header="t('codes.kind')"
      ><template #body="{ data: line }"
        ><span class="small quiet">{{ t(`codes.of.${(line as CodeLine).kind}`) }}</span></template
      ></Column
    >
    <Column :header="t('codes.ours')"
      ><template #body="{ data: line }"
        ><strong>{{ words.say(line.name) }}</strong>
        <p class="small quiet">{{ line.ours }}</p></template
      ></Column
    >
    <Column :header="t('codes.theirs')"
      ><template #body="{ data: line }"
        ><InputText
          :id="idOf(line as CodeLine)"
          :default-value="line.theirs ?? ''"
          size="small"
          class="theirs"
          :maxlength="LONGEST_CODE"
          :disabled="line.leftOut"
          :aria-label="t('codes.theirsOf', { name: words.say(line.name) })"
          :invalid="line.lack !== null"
          @change="changed(line as CodeLine, $event)" /></template
    ></Column>
    <Column :header="t('codes.state')"
      ><template #body="{ data: line }"
        ><WordTag v-if="line.lack" :tone="TONES[(line as CodeLine).lack!]">{{
          t(`codes.lack.${(line as CodeLine).lack!}`)
        }}</WordTag
        ><WordTag v-else-if="line.leftOut">{{ t('codes.leftOut') }}</WordTag
        ><WordTag v-else tone="moss">{{ t('codes.good') }}</WordTag></template
      ></Column
    >
    <Column
      ><template #header
        ><span class="visually-hidden">{{ t('codes.leaveOut') }}</span></template
      ><template #body="{ data: line }"
        ><label v-if="CAN_BE_LEFT_OUT.has((line as CodeLine).kind)" class="small"
          ><input
            type="checkbox"
            :checked="line.leftOut"
            :aria-label="t('codes.leaveOutOne', { name: words.say(line.name) })"
            @change="emit('save', line as CodeLine, line.leftOut ? undefined : null)"
          />
          {{ t('codes.leaveOut') }}</label
        ></template
      ></Column
    >
  </DataTable>
</template>

<style scoped>
.theirs {
  width: 100%;
  min-width: 140px;
}
</style>
