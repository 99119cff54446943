<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { PLAIN_HARDWARE, type FakeHardware } from '~/device/useDeviceHardware'

/** One phone of the bench, with the switches of its surroundings. */
const { phone } = defineProps<{ phone: string }>()
const { t } = useI18n()
const name = computed(() => `lantern-phone-${phone}`)
const frame = useTemplateRef('frame')
const hardware = reactive<FakeHardware>({ ...PLAIN_HARDWARE })
const SLOWNESS = [0, 400, 2000] as const
const HOUR = 60 * 60_000
const CLOCKS = [-3 * HOUR, 0, 3 * HOUR] as const
const hasPlace = computed({
  get: () => hardware.position !== null,
  set: on => {
    hardware.position = on ? PLAIN_HARDWARE.position : null
  },
})
const send = () =>
  frame.value?.contentWindow?.postMessage(
    { fakeHardware: JSON.parse(JSON.stringify(hardware)) as FakeHardware },
    window.location.origin,
  )
watch(hardware, send)
/** The phone says when it is there, also after it was loaded anew. */
function onMessage({ origin, data }: MessageEvent<{ phone?: string }>) {
  if (origin === window.location.origin && data.phone === name.value) send()
}
useEventListener('message', onMessage)

async function see(event: Event) {
  const field = event.target as HTMLInputElement
  const [file] = field.files ?? []
  field.value = ''
  if (!file) return
  hardware.picture = await dataAddressOf(file)
}
</script>

<template>
  <section class="phone" :aria-label="t('trainingPhones.phone', { phone: phone.toUpperCase() })">
    <div class="switches">
      <h2>{{ t('trainingPhones.phone', { phone: phone.toUpperCase() }) }}</h2>
      <label
        ><input v-model="hardware.network" type="checkbox" :data-switch="`network-${phone}`" />
        {{ t('trainingPhones.network') }}</label
      >
      <details>
        <summary>{{ t('trainingPhones.more') }}</summary>
        <div class="stack">
          <label><input v-model="hardware.wifi" type="checkbox" /> {{ t('trainingPhones.wifi') }}</label>
          <label><input v-model="hasPlace" type="checkbox" /> {{ t('trainingPhones.position') }}</label>
          <PickOne
            v-model="hardware.slowness"
            :input-id="`slow-${phone}`"
            :label="t('trainingPhones.slowness')"
            :options="SLOWNESS.map(value => ({ value, label: t('trainingPhones.milliseconds', { value }) }))"
          />
          <PickOne
            v-model="hardware.clockOff"
            :input-id="`clock-${phone}`"
            :label="t('trainingPhones.clock')"
            :options="
              CLOCKS.map(value => ({ value, label: t('trainingPhones.hours', { hours: value / HOUR }) }))
            "
          />
          <div class="field">
            <label :for="`code-${phone}`">{{ t('trainingPhones.code') }}</label><InputText
              :id="`code-${phone}`"
              :model-value="hardware.code ?? ''"
              maxlength="60"
              @update:model-value="hardware.code = $event || null"
            />
          </div>
          <label class="put"
            >{{ t(hardware.picture ? 'trainingPhones.pictureThere' : 'trainingPhones.picture')
            }}<input type="file" accept="image/*" class="visually-hidden" :data-camera="phone" @change="see"
          /></label>
        </div>
      </details>
    </div>
    <iframe
      ref="frame"
      :name="name"
      src="/desk"
      :title="t('trainingPhones.phone', { phone: phone.toUpperCase() })"
    />
  </section>
</template>

<style scoped>
.phone {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-width: 0;
}
.switches {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: baseline;
  padding: 10px 12px;
  border: 1px solid var(--line);
  border-radius: 12px;
  background: var(--card);
}
details[open] {
  flex-basis: 100%;
}
summary {
  cursor: pointer;
  color: var(--plum-7);
}
iframe {
  width: 100%;
  height: 600px;
  border: 8px solid #1f1a2b;
  border-radius: 22px;
  background: var(--paper);
}
.put {
  text-decoration: underline;
  cursor: pointer;
  color: var(--plum-7);
  min-height: 32px;
}
.put:focus-within {
  outline: 2px solid var(--plum-5);
}
</style>
