<script setup lang="ts">
/**
 * Signs somebody in at this device, once and with a network; with a one-time code they choose their password.
 */
definePageMeta({ layout: 'plain' })
const { t } = useI18n()
const vault = useVault()
const router = useRouter()
const name = ref('')
const password = ref('')
const code = ref('')
const byCode = ref(false)
const { busy, problem, run } = useAct()
async function submit() {
  if (await run(() => vault.signIn(name.value, password.value, byCode.value ? code.value : undefined)))
    await router.push('/desk/pin')
  else password.value = ''
}
useHead({ title: () => t('signIn.title') })
</script>

<template>
  <form class="card box stack" @submit.prevent="submit">
    <h1>{{ t('signIn.title') }}</h1>
    <p class="quiet">{{ vault.device?.name }} · {{ vault.device?.unit.name }}. {{ t('lock.onceHint') }}</p>
    <div class="field">
      <label for="user-name">{{ t('signIn.userName') }}</label><InputText
        id="user-name"
        v-model="name"
        fluid
        autocomplete="username"
        autocapitalize="none"
        required
      />
    </div>
    <div v-if="byCode" class="field">
      <label for="one-time-code">{{ t('code.code') }}</label><InputText
        id="one-time-code"
        v-model="code"
        fluid
        autocomplete="one-time-code"
        autocapitalize="characters"
        required
        maxlength="40"
      />
    </div>
    <div class="field">
      <label for="password">{{ t(byCode ? 'code.password' : 'signIn.password') }}</label><InputText
        id="password"
        v-model="password"
        type="password"
        fluid
        :autocomplete="byCode ? 'new-password' : 'current-password'"
        :minlength="byCode ? 10 : 1"
        required
      />
    </div>
    <ProblemNote :problem="problem" />
    <Button type="submit" :label="t('act.signIn')" :loading="busy" fluid />
    <button class="textual" type="button" @click="byCode = !byCode">
      {{ t(byCode ? 'code.withPassword' : 'code.have') }}
    </button>
    <NuxtLink v-if="vault.people.length" to="/desk/unlock">{{ t('lock.back') }}</NuxtLink>
  </form>
</template>

<style scoped>
.box {
  width: min(380px, 100%);
  padding: 22px;
}
a {
  align-self: center;
}
</style>
