<script setup lang="ts">
import { EXTRACT_REPEATS, type ExtractSave, type RecipientChoice } from '#core/contract/extracts'

/** When a saved extract goes out by itself, and where: into the folder, or to a recipient. */
const { hasFolder, recipients } = defineProps<{
  hasFolder: boolean
  recipients: readonly RecipientChoice[]
}>()
const repeats = defineModel<ExtractSave['repeats']>('repeats', { required: true })
const onlyNew = defineModel<boolean>('onlyNew', { required: true })
const recipient = defineModel<string | null>('recipient', { required: true })
const { t } = useI18n()
const times = computed(() => [
  { value: null as ExtractSave['repeats'], label: t('extract.every.never') },
  ...EXTRACT_REPEATS.map(value => ({
    value: value as ExtractSave['repeats'],
    label: t(`extract.every.${value}`),
  })),
])
const places = computed(() => [
  ...(hasFolder ? [{ value: null as string | null, label: t('extract.into') }] : []),
  ...recipients.map(({ id, name }) => ({ value: id as string | null, label: t('extract.to', { name }) })),
])
const goesWithout = computed(() => recipients.some(({ id, personal }) => id === recipient.value && !personal))
// Where there is no folder, the first recipient is meant until another is chosen.
watch(repeats, when => {
  if (when && recipient.value === null && !hasFolder) recipient.value = recipients[0]?.id ?? null
})
</script>

<template>
  <div class="row">
    <PickOne
      v-model="repeats"
      input-id="extract-repeats"
      :label="t('extract.repeats')"
      :options="times"
    /><PickOne
      v-if="repeats"
      v-model="recipient"
      input-id="extract-recipient"
      :label="t('extract.place')"
      :options="places"
    />
    <label v-if="repeats" class="row"
      ><Checkbox v-model="onlyNew" binary input-id="extract-only-new" /> {{ t('extract.onlyNew') }}</label
    >
    <p v-if="repeats && goesWithout" class="small quiet">{{ t('extract.goesWithout') }}</p>
  </div>
</template>
