<script setup lang="ts">
import type { CardMade, DeviceLine } from '#core/contract/devices'

/**
 * The devices of the facilities: cards that pair them, when each was last heard of, and blocking one that is
 * lost.
 */
const words = useWords()
const { t } = words
const devices = useLoad(() => callApi('GET /api/devices', {}))
const cards = useLoad(() => callApi('GET /api/pairing-cards', {}))
const tree = useLoad(ownUnits)
const units = useUnits(() => tree.data.value)
const making = ref(false)
const made = shallowRef<(CardMade & { name: string; unit: string }) | null>(null)
const blocking = shallowRef<DeviceLine | null>(null)
const letsIn = ref(false)
const { busy, problem, run } = useAct()
const asking = computed({
  get: () => blocking.value !== null,
  set: on => {
    if (!on) blocking.value = null
  },
})
function shown(card: CardMade & { name: string; unit: string }) {
  making.value = false
  made.value = card
  void cards.reload()
}
const block = async (device: DeviceLine, blocked: boolean) => {
  if (
    await run(() =>
      callApi('POST /api/devices/:id/block', {
        params: { id: device.id },
        body: { blocked, letsIn: letsIn.value },
      }),
    )
  ) {
    blocking.value = null
    await devices.reload()
  }
}
const end = (id: string) =>
  run(async () => {
    await callApi('DELETE /api/pairing-cards/:id', { params: { id } })
    await cards.reload()
  })
const carryBack = (device: DeviceLine) =>
  run(async () =>
    saveFile(
      `${device.name}.lantern`,
      'text/plain',
      await callApi('GET /api/devices/:id/carry', { params: { id: device.id }, query: {} }),
    ),
  )
/** A clock that is off by less than this is right. */
const CLOCK_MATTERS = 2 * 60_000
const clockText = (off: number | null) =>
  off === null || Math.abs(off) < CLOCK_MATTERS
    ? ''
    : t(off > 0 ? 'devices.ahead' : 'devices.behind', {
        span: words.span(Math.round(Math.abs(off) / 60_000)),
      })
function askToBlock(device: DeviceLine) {
  letsIn.value = false
  blocking.value = device
}
</script>

<template>
  <div class="page">
    <PageHead :title="t('devices.title')"
      ><template #acts
        ><NuxtLink to="/training-phones" class="to-training">{{ t('trainingPhones.title') }}</NuxtLink
        ><Button icon="pi pi-plus" :label="t('devices.newCard')" @click="making = true" /></template
    ></PageHead>
    <div class="stack">
      <PairingCard v-if="made" :card="made" @close="made = null" />
      <CardForm v-if="making" :units="units" @made="shown" @cancel="making = false" />
      <ProblemNote v-if="!blocking" :problem="problem" />
      <LoadState
        v-slot="{ data }"
        :load="devices"
        :empty="devices.data.value?.length === 0"
        :empty-text="t('devices.none')"
      >
        <DataTable :value="data" data-key="id" paginator :rows="20" :always-show-paginator="false">
          <Column :header="t('devices.device')"
            ><template #body="{ data: one }"
              ><strong>{{ one.name }}</strong></template
            ></Column
          >
          <Column :header="t('tryOut.facility')"
            ><template #body="{ data: one }">{{ one.unit.name }}</template></Column
          >
          <Column :header="t('devices.heard')"
            ><template #body="{ data: one }"
              >{{ one.lastContactAt ? words.moment(one.lastContactAt) : t('people.never') }}
              <p v-if="one.lastPerson" class="small quiet">{{ one.lastPerson }}</p>
              <p v-if="clockText(one.clockOffMs)" class="small off">
                {{ clockText(one.clockOffMs) }}
              </p></template
            ></Column
          >
          <Column :header="t('devices.state')"
            ><template #body="{ data: one }"
              ><WordTag :tone="one.blocked ? 'brick' : 'moss'">{{
                t(one.blocked ? (one.letsIn ? 'devices.blockedLets' : 'devices.blocked') : 'devices.open')
              }}</WordTag></template
            ></Column
          >
          <Column :header="t('people.acts')"
            ><template #body="{ data: one }"
              ><Button
                v-if="one.blocked"
                size="small"
                text
                :label="t('devices.letIn')"
                @click="block(one, false)" /><template v-else
                ><Button
                  size="small"
                  text
                  :label="t('carry.back')"
                  :aria-label="words.pair(t('carry.back'), one.name)"
                  @click="carryBack(one)" /><Button
                  size="small"
                  text
                  :label="t('devices.block')"
                  :aria-label="words.pair(t('devices.block'), one.name)"
                  @click="askToBlock(one)" /></template></template
          ></Column>
        </DataTable>
      </LoadState>
      <CarriedIn @taken="devices.reload()" />
      <section class="card stack">
        <h2>{{ t('devices.cards') }}</h2>
        <LoadState v-slot="{ data }" :load="cards">
          <p v-if="!data.length" class="quiet">{{ t('devices.noCards') }}</p>
          <ul v-else class="plain-list">
            <li v-for="one in data" :key="one.id" class="spread">
              <span
                ><strong>{{ one.name }}</strong> · {{ one.unit.name }}
                <span class="small quiet"
                  >{{ t('devices.paired', { count: one.devices }, one.devices) }} ·
                  {{
                    one.open
                      ? t('devices.until', { until: words.day(one.until), uses: one.usesLeft }, one.usesLeft)
                      : t('devices.over')
                  }}</span
                ></span
              ><Button v-if="one.open" size="small" text :label="t('devices.end')" @click="end(one.id)" />
            </li>
          </ul>
        </LoadState>
      </section>
    </div>
    <AskDialog
      v-if="blocking"
      v-model:visible="asking"
      :title="t('devices.blockOne', { name: blocking.name })"
      :act="t('devices.block')"
      :busy="busy"
      :problem="problem"
      @go="block(blocking, true)"
      ><p>{{ t('devices.blockAsk') }}</p>
      <label><input v-model="letsIn" type="checkbox" /> {{ t('devices.letsIn') }}</label></AskDialog
    >
  </div>
</template>

<style scoped>
.to-training {
  align-self: center;
}
.off {
  color: var(--amber-7);
}
li {
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
</style>
