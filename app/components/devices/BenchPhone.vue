<script setup lang="ts">
import { PLAIN_STAND_IN, type StandIn } from '~/composables/useOutside'

/** One phone of the bench, with the switches of its surroundings. */
const { phone } = defineProps<{ phone: string }>()
const { t } = useI18n()
const name = computed(() => `lantern-phone-${phone}`)
const frame = useTemplateRef('frame')
const told = reactive<StandIn>({ ...PLAIN_STAND_IN })
const SLOWNESS = [0, 400, 2000] as const
const HOUR = 60 * 60_000
const CLOCKS = [-3 * HOUR, 0, 3 * HOUR] as const
const hasPlace = computed({ get: () => told.position !== null, set: (on) => { told.position = on ? PLAIN_STAND_IN.position : null } })
const tell = () => frame.value?.contentWindow?.postMessage({ standIn: JSON.parse(JSON.stringify(told)) as StandIn }, window.location.origin)
watch(told, tell)
/** The phone says when it is there, also after it was loaded anew. */
function heard({ origin, data }: MessageEvent<{ phone?: string }>) {
  if (origin === window.location.origin && data.phone === name.value) tell()
}
onMounted(() => window.addEventListener('message', heard))
onBeforeUnmount(() => window.removeEventListener('message', heard))

async function see(event: Event) {
  const field = event.target as HTMLInputElement
  const [file] = field.files ?? []
  field.value = ''
  if (!file) return
  told.picture = await dataAddressOf(file)
}
</script>

<template>
  <section class="phone" :aria-label="t('bench.phone', { phone: phone.toUpperCase() })">
    <div class="switches">
      <h2>{{ t('bench.phone', { phone: phone.toUpperCase() }) }}</h2>
      <label><input v-model="told.network" type="checkbox" :data-switch="`network-${phone}`"> {{ t('bench.network') }}</label>
      <details>
        <summary>{{ t('bench.more') }}</summary>
        <div class="stack">
          <label><input v-model="told.wifi" type="checkbox"> {{ t('bench.wifi') }}</label>
          <label><input v-model="hasPlace" type="checkbox"> {{ t('bench.position') }}</label>
          <PickOne v-model="told.slowness" :input-id="`slow-${phone}`" :label="t('bench.slowness')" :options="SLOWNESS.map(value => ({ value, label: t('bench.milliseconds', { value }) }))" />
          <PickOne v-model="told.clockOff" :input-id="`clock-${phone}`" :label="t('bench.clock')" :options="CLOCKS.map(value => ({ value, label: t('bench.hours', { hours: value / HOUR }) }))" />
          <div class="field"><label :for="`code-${phone}`">{{ t('bench.code') }}</label><InputText :id="`code-${phone}`" :model-value="told.code ?? ''" maxlength="60" @update:model-value="told.code = $event || null" /></div>
          <label class="put">{{ t(told.picture ? 'bench.pictureThere' : 'bench.picture') }}<input type="file" accept="image/*" class="heard-only" :data-camera="phone" @change="see"></label>
        </div>
      </details>
    </div>
    <iframe ref="frame" :name="name" src="/desk" :title="t('bench.phone', { phone: phone.toUpperCase() })" />
  </section>
</template>

<style scoped>
.phone { display: flex; flex-direction: column; gap: 10px; min-width: 0; }
.switches { display: flex; flex-wrap: wrap; gap: 6px 16px; align-items: baseline; padding: 10px 12px; border: 1px solid var(--line); border-radius: 12px; background: var(--card); }
details[open] { flex-basis: 100%; }
summary { cursor: pointer; color: var(--plum-7); }
iframe { width: 100%; height: 600px; border: 8px solid #1f1a2b; border-radius: 22px; background: var(--paper); }
.put { text-decoration: underline; cursor: pointer; color: var(--plum-7); min-height: 32px; }
.put:focus-within { outline: 2px solid var(--plum-5); }
</style>
