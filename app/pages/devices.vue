<script setup lang="ts">
import { DEVICE_SHOWS, type CardMade, type DeviceLine } from '#core/contract/devices'

/**
 * The devices of the facilities: cards that pair them, when each was last heard of, and blocking one that is
 * lost.
 */
const words = useWords()
const { t } = words
const { asked, ask } = useAsked(['show', 'find'])
const show = computed({
  get: () => DEVICE_SHOWS.find(one => one === asked.value.show) ?? 'all',
  set: one => void ask({ show: one }),
})
const devices = usePages(
  (after: DeviceLine | undefined) =>
    callApi('GET /api/devices', {
      query: { show: show.value, find: asked.value.find, after: after?.id },
    }),
  () => `${show.value} ${asked.value.find}`,
)
const shows = computed(() =>
  DEVICE_SHOWS.map(value => ({
    value,
    label: `${t(`devices.show.${value}`)} ${words.number(devices.data.value?.counts[value] ?? 0)}`,
  })),
)
const text = useAskedText(
  () => asked.value.find,
  find => ask({ find }),
)
const cards = useLoad(() => callApi('GET /api/pairing-cards', {}))
const tree = useLoad(ownUnits)
const units = useUnits(() => tree.data.value)
const making = ref(false)
const made = shallowRef<(CardMade & { name: string; unit: string }) | null>(null)
const blocking = shallowRef<DeviceLine | null>(null)
const letsIn = ref(false)
const { busy, problem, run } = useAct()
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
const asking = openWhile(blocking)
const handing = shallowRef<DeviceLine | null>(null)
const isHanding = openWhile(handing)
const newName = ref('')
function askToHandOver(device: DeviceLine) {
  newName.value = device.name
  handing.value = device
}
async function handOver({ id }: DeviceLine) {
  const body = { name: newName.value }
  if (!(await run(() => callApi('POST /api/devices/:id/hand-over', { params: { id }, body })))) return
  handing.value = null
  await devices.reload()
}
const pairing = shallowRef<DeviceLine | null>(null)
const isPairing = openWhile(pairing)
async function pairAgain({ id, name, unit }: DeviceLine) {
  const done = await run(async () => {
    const card = await callApi('POST /api/devices/:id/pair-again', { params: { id } })
    shown({ ...card, name, unit: unit.name })
  })
  if (!done) return
  pairing.value = null
  window.scrollTo({ top: 0 })
  await devices.reload()
}
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
      <ProblemNote v-if="!blocking && !handing && !pairing" :problem="problem" />
      <FilterButtons v-model="show" :label="t('devices.title')" :options="shows">
        <InputText
          v-model="text"
          size="small"
          :maxlength="100"
          :aria-label="t('devices.find')"
          :placeholder="t('devices.find')"
        />
      </FilterButtons>
      <LoadState
        v-slot="{ data }"
        :load="devices"
        :empty="devices.data.value?.lines.length === 0"
        :empty-text="t(show === 'all' && !asked.find ? 'devices.none' : 'devices.noneLike')"
      >
        <DeviceTable
          :lines="data.lines"
          @block="askToBlock"
          @let-in="block($event, false)"
          @carry="carryBack"
          @hand-over="askToHandOver"
          @pair-again="pairing = $event"
        />
        <ShowMore :more="data.more" @show="devices.showMore()" />
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
      v-if="handing"
      v-model:visible="isHanding"
      :title="t('devices.handOverOne', { name: handing.name })"
      :act="t('devices.handOver')"
      :busy="busy"
      :problem="problem"
      :disabled="newName.trim().length < 2"
      @go="handOver(handing)"
      ><p>{{ t('devices.handOverAsk') }}</p>
      <div class="field">
        <label for="device-name">{{ t('devices.newName') }}</label>
        <InputText id="device-name" v-model="newName" :maxlength="80" fluid /></div
    ></AskDialog>
    <AskDialog
      v-if="pairing"
      v-model:visible="isPairing"
      :title="t('devices.pairAgainOne', { name: pairing.name })"
      :act="t('devices.pairAgain')"
      :busy="busy"
      :problem="problem"
      @go="pairAgain(pairing)"
      ><p>{{ t('devices.pairAgainAsk') }}</p></AskDialog
    >
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
li {
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
</style>
