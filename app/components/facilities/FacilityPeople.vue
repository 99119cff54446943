<script setup lang="ts">
import type { FacilityFile } from '#core/contract/facility'

/** The people and the devices of a facility, with when each was last seen. */
const { facility } = defineProps<{ facility: FacilityFile }>()
const words = useWords()
const { t } = words
const session = useSession()
const seenText = (at: string | null) => (at ? words.moment(at) : t('facility.neverSeen'))
const deviceText = ({ blocked, lastContactAt, waiting }: FacilityFile['devices'][number]) =>
  [
    blocked ? t('devices.show.blocked') : seenText(lastContactAt),
    waiting ? t('devices.stillWaits', { count: waiting }, waiting) : '',
  ]
    .filter(Boolean)
    .join(' · ')
</script>

<template>
  <section class="card stack" aria-labelledby="people-here">
    <h2 id="people-here">{{ t('facility.people') }}</h2>
    <p v-if="!facility.people.length" class="quiet">{{ t('facility.noPeople') }}</p>
    <ul class="plain-list">
      <li v-for="one in facility.people" :key="one.name">
        {{ one.name }} <span class="small quiet">{{ seenText(one.lastSeenAt) }}</span>
      </li>
    </ul>
    <h3>{{ t('facility.devices') }}</h3>
    <p v-if="!facility.devices.length" class="quiet">{{ t('facility.noDevices') }}</p>
    <ul class="plain-list">
      <li v-for="one in facility.devices" :key="one.id">
        <NuxtLink
          v-if="session.can('manageDevices')"
          :to="{ path: '/devices', query: { find: facility.unit.name } }"
          >{{ one.name }}</NuxtLink><template v-else>{{ one.name }}</template
        >{{ ' ' }}
        <span class="small quiet">{{ deviceText(one) }}</span>
      </li>
    </ul>
  </section>
</template>
