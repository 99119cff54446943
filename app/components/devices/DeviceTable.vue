<script setup lang="ts">
import { SILENT_DAYS, type DeviceLine } from '#core/contract/devices'

/** The devices of a list: who had each last, what waits on it, and what can be done with it. */
const { lines } = defineProps<{ lines: readonly DeviceLine[] }>()
const emit = defineEmits<{
  block: [device: DeviceLine]
  letIn: [device: DeviceLine]
  carry: [device: DeviceLine]
  handOver: [device: DeviceLine]
  pairAgain: [device: DeviceLine]
}>()
const words = useWords()
const { t } = words
const opened = ref<Record<string, boolean>>({})
/** A clock that is off by less than this is right. */
const CLOCK_MATTERS = 2 * 60_000
/** A storage that is fuller than this will soon keep nothing more. */
const NEARLY_FULL = 0.8
const clockText = (off: number | null) =>
  off === null || Math.abs(off) < CLOCK_MATTERS
    ? ''
    : t(off > 0 ? 'devices.ahead' : 'devices.behind', {
        span: words.span(Math.round(Math.abs(off) / 60_000)),
      })
const silentFor = ({ lastContactAt, pairedAt }: DeviceLine) =>
  Math.floor((clockNow() - Date.parse(lastContactAt ?? pairedAt)) / 86_400_000)
const isSilent = (one: DeviceLine) => !one.blocked && silentFor(one) >= SILENT_DAYS
/** What an officer should know of a device besides when it was heard. */
const remarks = (one: DeviceLine): string[] =>
  [
    clockText(one.clockOffMs),
    one.isEarlier ? t('devices.earlier') : '',
    one.lacksEditions ? t('devices.lacksEditions', { count: one.lacksEditions }, one.lacksEditions) : '',
    (one.storageShare ?? 0) > NEARLY_FULL
      ? t('devices.full', { share: words.percent(one.storageShare) })
      : '',
  ].filter(Boolean)
</script>

<template>
  <DataTable
    v-model:expanded-rows="opened"
    :value="[...lines]"
    data-key="id"
    :table-props="{ 'aria-label': t('devices.title') }"
  >
    <Column :header="t('devices.device')"
      ><template #body="{ data: one }"
        ><strong>{{ one.name }}</strong>
        <p class="small quiet">{{ one.unit.name }}</p></template
      ></Column
    >
    <Column :header="t('devices.heard')"
      ><template #body="{ data: one }"
        >{{ one.lastContactAt ? words.moment(one.lastContactAt) : t('people.never') }}
        <p v-if="one.lastPerson" class="small quiet">{{ one.lastPerson }}</p></template
      ></Column
    >
    <Column :header="t('devices.waits')" class="number"
      ><template #body="{ data: one }"
        ><span :class="{ many: one.waiting }">{{ one.waiting ?? '·' }}</span>
        <p v-if="one.needsPerson" class="small off">
          {{ t('devices.needsPerson', { count: one.needsPerson }, one.needsPerson) }}
        </p></template
      ></Column
    >
    <Column :header="t('devices.remarks')"
      ><template #body="{ data: one }"
        ><p v-for="remark in remarks(one)" :key="remark" class="small off">{{ remark }}</p></template
      ></Column
    >
    <Column :header="t('devices.state')"
      ><template #body="{ data: one }"
        ><WordTag v-if="one.blocked" tone="brick">{{
          t(one.letsIn ? 'devices.blockedLets' : 'devices.blocked')
        }}</WordTag
        ><WordTag v-else-if="isSilent(one)" tone="amber">{{
          t('devices.silentFor', { days: silentFor(one) }, silentFor(one))
        }}</WordTag
        ><WordTag v-else tone="moss">{{ t('devices.open') }}</WordTag></template
      ></Column
    >
    <Column :header="t('people.acts')"
      ><template #body="{ data: one }"
        ><Button
          size="small"
          text
          :label="t('devices.contacts')"
          :aria-label="words.pair(t('devices.contacts'), one.name)"
          :aria-expanded="opened[one.id] ? 'true' : 'false'"
          @click="opened = { ...opened, [one.id]: !opened[one.id] }" /><Button
          v-if="one.blocked"
          size="small"
          text
          :label="t('devices.letIn')"
          @click="emit('letIn', one)" /><template v-else
          ><Button
            size="small"
            text
            :label="t('carry.back')"
            :aria-label="words.pair(t('carry.back'), one.name)"
            @click="emit('carry', one)" /><Button
            size="small"
            text
            :label="t('devices.block')"
            :aria-label="words.pair(t('devices.block'), one.name)"
            @click="emit('block', one)" /><Button
            size="small"
            text
            :label="t('devices.handOver')"
            :aria-label="words.pair(t('devices.handOver'), one.name)"
            @click="emit('handOver', one)" /></template
        ><Button
          size="small"
          text
          :label="t('devices.pairAgain')"
          :aria-label="words.pair(t('devices.pairAgain'), one.name)"
          @click="emit('pairAgain', one)" /></template
    ></Column>
    <template #expansion="{ data: one }"><DeviceContacts :device="one.id" /></template>
  </DataTable>
</template>

<style scoped>
.off {
  color: var(--amber-7);
}
.many {
  color: var(--amber-7);
  font-weight: 700;
}
</style>
