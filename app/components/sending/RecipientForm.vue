<script setup lang="ts">
import { DOCUMENT_FORMATS, type DocumentFormat } from '#core/exchange/value-document'
import { RECIPIENT_EXTRACTS, type RecipientExtracts, type RecipientLine } from '#core/contract/sending'

/** A new recipient of signed reports, or the changes of one. Its key is written, and never shown. */
const { recipient } = defineProps<{ recipient: RecipientLine | null }>()
const emit = defineEmits<{ done: [recipient: RecipientLine]; cancel: [] }>()
const { t } = useI18n()
const name = ref(recipient?.name ?? '')
const format = ref<DocumentFormat>(recipient?.format ?? 'adx')
const extracts = ref<RecipientExtracts>(recipient?.extracts ?? 'none')
const address = ref(recipient?.address ?? '')
const key = ref('')
const removesKey = ref(false)
const formats = computed(() => DOCUMENT_FORMATS.map(value => ({ value, label: t(`recipient.as.${value}`) })))
const takesExtracts = computed(() =>
  RECIPIENT_EXTRACTS.map(value => ({ value, label: t(`recipient.takesExtracts.${value}`) })),
)
const { busy, problem, run } = useAct()
/** Nothing written: the key stays as it is. */
const keyToSave = () => (removesKey.value ? { key: null } : key.value ? { key: key.value } : {})
async function save() {
  const body = {
    ...{ name: name.value, format: format.value, extracts: extracts.value, address: address.value.trim() },
    ...keyToSave(),
  }
  await run(async () => {
    const saved = recipient
      ? await callApi('PUT /api/recipients/:id', {
          params: { id: recipient.id },
          body: { version: recipient.version, recipient: body },
        })
      : await callApi('POST /api/recipients', { body })
    emit('done', saved)
  })
}
</script>

<template>
  <form class="card stack" @submit.prevent="save">
    <h2>{{ recipient ? t('recipient.change', { name: recipient.name }) : t('recipient.new') }}</h2>
    <div class="fields">
      <div class="field wide">
        <label for="recipient-name">{{ t('recipient.name') }}</label><InputText
          id="recipient-name"
          v-model="name"
          required
          minlength="2"
          maxlength="100"
        />
      </div>
      <PickOne
        v-model="format"
        input-id="recipient-format"
        :label="t('recipient.format')"
        :options="formats"
      />
      <div class="field wide">
        <label for="recipient-address">{{ t('recipient.address') }}</label><InputText
          id="recipient-address"
          v-model="address"
          required
          maxlength="500"
          pattern="https?://\S+|stand-in(:(slow|down|half|hangs))?"
          aria-describedby="recipient-address-hint"
        /><small id="recipient-address-hint" class="quiet">{{ t('recipient.addressHint') }}</small>
      </div>
      <div class="field wide">
        <label for="recipient-key">{{ t('recipient.key') }}</label><InputText
          id="recipient-key"
          v-model="key"
          type="password"
          autocomplete="off"
          maxlength="500"
          :disabled="removesKey"
          aria-describedby="recipient-key-hint"
        /><small id="recipient-key-hint" class="quiet">{{
          t(recipient?.hasKey ? 'recipient.keyKept' : 'recipient.keyHint')
        }}</small>
        <label v-if="recipient?.hasKey" class="small"
          ><input v-model="removesKey" type="checkbox" /> {{ t('recipient.removeKey') }}</label
        >
      </div>
      <div class="field wide">
        <PickOne
          v-model="extracts"
          input-id="recipient-extracts"
          :label="t('recipient.extracts')"
          :options="takesExtracts"
        /><small class="quiet">{{ t('recipient.extractsHint') }}</small>
      </div>
    </div>
    <FormEnd :problem="problem" :label="t('act.save')" :busy="busy" @cancel="emit('cancel')" />
  </form>
</template>
