<script setup lang="ts">
/**
 * Pairs this device with its facility, by the code of a card: seen by the camera, read from a picture, or
 * typed.
 */
definePageMeta({ layout: 'plain' })
const { t, locale } = useI18n()
const route = useRoute()
const vault = useVault()
const code = ref(decodeURIComponent(route.hash.slice(1)))
const looking = ref(false)
const unread = ref(false)
const { busy, problem, run } = useAct()

async function pair() {
  if (await run(() => vault.pair(code.value))) locale.value = vault.device!.settings.language
}
/** The code stands behind the # of the address in the card's square. */
async function found(text: string) {
  looking.value = false
  code.value = decodeURIComponent(text.slice(text.indexOf('#') + 1))
  await pair()
}
async function readPicture(picture: Blob) {
  const text = await squareInPicture(picture)
  unread.value = text === null
  if (text !== null) await found(text)
}
async function look() {
  unread.value = false
  const stand = await fakePicture()
  if (stand) await readPicture(stand)
  else looking.value = true
}
useHead({ title: () => t('pair.title') })
function failed() {
  looking.value = false
  unread.value = true
}
</script>

<template>
  <div class="card box stack">
    <h1>{{ t('pair.title') }}</h1>
    <p v-if="route.query.erased" role="alert" class="unread">{{ t('lock.erased') }}</p>
    <template v-if="vault.device">
      <p role="status">
        <strong>{{ t('pair.done', { name: vault.device.name, unit: vault.device.unit.name }) }}</strong>
      </p>
      <NuxtLink to="/desk">{{ t('pair.goOn') }}</NuxtLink>
    </template>
    <form v-else class="stack" @submit.prevent="pair">
      <p class="quiet">{{ t('pair.hint') }}</p>
      <SquareReader v-if="looking" @found="found" @failed="failed" />
      <Button
        v-else
        type="button"
        icon="pi pi-camera"
        :label="t('pair.camera')"
        severity="secondary"
        outlined
        @click="look"
      />
      <FileButton
        icon="pi-image"
        :label="t('pair.picture')"
        accept="image/*"
        class="picture"
        @file="readPicture"
      />
      <p v-if="unread" role="alert" class="unread">{{ t('pair.unread') }}</p>
      <div class="field">
        <label for="pair-code">{{ t('pair.code') }}</label><InputText
          id="pair-code"
          v-model="code"
          fluid
          autocapitalize="characters"
          autocomplete="off"
          maxlength="40"
          required
        />
      </div>
      <ProblemNote :problem="problem" />
      <Button type="submit" :label="t('pair.pair')" :loading="busy" fluid />
    </form>
  </div>
</template>

<style scoped>
.box {
  width: min(420px, 100%);
  padding: 22px;
}
.picture {
  align-self: stretch;
}
.unread {
  color: var(--brick-7);
}
</style>
