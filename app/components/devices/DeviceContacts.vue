<script setup lang="ts">
import type { DeviceContact } from '#core/contract/devices'

/** The log of one device: when it was heard, with whom, and what it brought. */
const { device } = defineProps<{ device: string }>()
const words = useWords()
const { t } = words
const contacts = usePages((after: DeviceContact | undefined) =>
  callApi('GET /api/devices/:id/contacts', { params: { id: device }, query: { after: after?.id } }),
)
const broughtText = ({ received, refused, conflicts, waiting }: DeviceContact): string =>
  [
    received ? t('devices.brought', { count: received }, received) : t('devices.broughtNothing'),
    refused ? t('devices.refused', { count: refused }, refused) : '',
    conflicts ? t('devices.conflicts', { count: conflicts }, conflicts) : '',
    waiting ? t('devices.stillWaits', { count: waiting }, waiting) : '',
  ]
    .filter(Boolean)
    .join(' · ')
</script>

<template>
  <LoadState
    v-slot="{ data }"
    :load="contacts"
    :empty="contacts.data.value?.lines.length === 0 && !contacts.data.value.acts.length"
    :empty-text="t('devices.noContacts')"
  >
    <ul v-if="data.acts.length" class="plain-list log">
      <li v-for="one in data.acts" :key="one.at + one.act">
        <span class="at">{{ words.moment(one.at) }}</span>
        <span>{{ t(`devices.act.${one.act}`, { name: one.text ?? '' }) }}</span>
        <span class="small quiet">{{ one.by }}</span>
      </li>
    </ul>
    <ol class="plain-list log">
      <li v-for="one in data.lines" :key="one.id">
        <span class="at">{{ words.moment(one.beganAt) }}</span>
        <span>{{ broughtText(one) }}</span>
        <span class="small quiet">{{ one.by }}</span>
      </li>
    </ol>
    <ShowMore :more="data.more" @show="contacts.showMore()" />
  </LoadState>
</template>

<style scoped>
.log {
  max-height: 320px;
  overflow: auto;
}
.log li {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) auto;
  gap: 14px;
  padding: 5px 8px;
  border-bottom: 1px solid var(--line);
}
.at {
  font-weight: 600;
}
</style>
