<script setup lang="ts">
/** Comes in by a one-time code, and chooses a password. */
const emit = defineEmits<{ done: [] }>()
const { t } = useI18n()
const session = useSession()
const name = ref('')
const code = ref('')
const password = ref('')
const LEAST = 10
const { busy, problem, run } = useAct()
async function submit() {
  if (await run(() => session.comeIn(name.value, code.value, password.value))) emit('done')
}
</script>

<template>
  <form class="stack" @submit.prevent="submit">
    <p class="small quiet">{{ t('code.hint') }}</p>
    <div class="field">
      <label for="code-user">{{ t('signIn.userName') }}</label><InputText
        id="code-user"
        v-model="name"
        fluid
        autocomplete="username"
        autocapitalize="none"
        required
      />
    </div>
    <div class="field">
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
      <label for="new-password">{{ t('code.password') }}</label><InputText
        id="new-password"
        v-model="password"
        type="password"
        fluid
        autocomplete="new-password"
        required
        :minlength="LEAST"
        aria-describedby="new-password-rule"
      /><small id="new-password-rule" class="quiet">{{ t('code.rule', { least: LEAST }) }}</small>
    </div>
    <ProblemNote :problem="problem" />
    <Button type="submit" :label="t('code.comeIn')" :loading="busy" fluid />
  </form>
</template>
