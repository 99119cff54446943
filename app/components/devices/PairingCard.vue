<script setup lang="ts">
import QRCode from 'qrcode'
import type { CardMade } from '#core/contract/devices'

/** A pairing card to print: a square to photograph and a short code to type. It holds no password. */
const { card } = defineProps<{ card: CardMade & { name: string; unit: string } }>()
const emit = defineEmits<{ close: [] }>()
const words = useWords()
const { t } = words
const session = useSession()
const address = computed(() => `${window.location.origin}/desk/pair`)
const square = ref('')
watch(
  () => card.code,
  async code => {
    square.value = await QRCode.toDataURL(`${address.value}#${code}`, {
      margin: 2,
      width: 320,
      errorCorrectionLevel: 'M',
    })
  },
  { immediate: true },
)
const print = () => window.print()
</script>

<template>
  <section class="card pairing" :aria-label="t('devices.card')">
    <div class="face">
      <div class="words">
        <h2>{{ card.unit }}</h2>
        <p>{{ session.view?.installation }} · {{ card.name }}</p>
        <ol>
          <li>{{ t('devices.step.open', { address }) }}</li>
          <li>
            {{ t('devices.step.code') }} <strong class="code">{{ card.code }}</strong>
          </li>
          <li>{{ t('devices.step.signIn') }}</li>
        </ol>
        <p class="small">
          {{ t('devices.until', { until: words.day(card.until), uses: card.uses }, card.uses) }}
        </p>
      </div>
      <img v-if="square" :src="square" :alt="t('devices.square')" width="240" height="240" />
    </div>
    <div class="row no-print">
      <Button icon="pi pi-print" :label="t('paper.print')" @click="print" /><Button
        severity="secondary"
        outlined
        :label="t('people.codeSeen')"
        @click="emit('close')"
      /><span class="small quiet">{{ t('devices.once') }}</span>
    </div>
  </section>
</template>

<style scoped>
.pairing {
  border-left: 4px solid var(--amber-5);
}
.face {
  display: flex;
  flex-wrap: wrap;
  gap: 24px;
  justify-content: space-between;
  align-items: flex-start;
  background: #fff;
  color: #000;
  padding: 16px;
  border-radius: 8px;
}
.words {
  flex: 1;
  min-width: 260px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
ol {
  margin: 0;
  padding-left: 20px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.code {
  font: 600 21px var(--title);
  letter-spacing: 0.06em;
  user-select: all;
}
.no-print {
  margin-top: 12px;
}
@media print {
  .no-print {
    display: none;
  }
  .pairing {
    border: 1px solid #000;
  }
}
</style>
