<script setup lang="ts">
import { isEasyPin, isPin } from '#core/protect/pin-key'

/**
 * The person who has just signed in sets a PIN. It opens their data on this device, also without a network.
 */
definePageMeta({ layout: 'plain' })
const { t } = useI18n()
const vault = useVault()
const router = useRouter()
const pin = ref('')
const again = ref('')
const busy = ref(false)
const wrong = ref<'pinShape' | 'pinEasy' | 'pinDiffers' | null>(null)
async function choose() {
  wrong.value = !isPin(pin.value)
    ? 'pinShape'
    : isEasyPin(pin.value)
      ? 'pinEasy'
      : pin.value !== again.value
        ? 'pinDiffers'
        : null
  if (wrong.value) return
  busy.value = true
  await vault.choosePin(pin.value)
  await router.push('/desk')
}
useHead({ title: () => t('lock.choose') })
</script>

<template>
  <form class="card box stack" @submit.prevent="choose">
    <h1>{{ t('lock.choose') }}</h1>
    <p id="pin-hint" class="quiet">
      {{ t('lock.chooseHint', { name: vault.coming?.session.view.person.displayName ?? '' }) }}
    </p>
    <PinField v-model="pin" input-id="pin" :label="t('lock.pin')" described-by="pin-hint" />
    <PinField v-model="again" input-id="pin-again" :label="t('lock.again')" />
    <p v-if="wrong" role="alert" class="wrong">{{ t(`lock.${wrong}`) }}</p>
    <Button type="submit" :label="t('lock.keep')" :loading="busy" fluid />
  </form>
</template>

<style scoped>
.box {
  width: min(380px, 100%);
  padding: 22px;
}
.wrong {
  color: var(--brick-7);
}
</style>
