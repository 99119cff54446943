<script setup lang="ts">
const { userName = '', locked = false } = defineProps<{ userName?: string; locked?: boolean }>()
const emit = defineEmits<{ done: [] }>()
const { t } = useI18n()
const session = useSession()
const vault = useVault()
const name = ref(userName)
const password = ref('')
const { busy, problem, run } = useAct()

async function submit() {
  if (
    await run(() =>
      vault.isOpen ? vault.signIn(name.value, password.value) : session.signIn(name.value, password.value),
    )
  )
    emit('done')
  else password.value = ''
}
</script>

<template>
  <form class="stack" @submit.prevent="submit">
    <div class="field">
      <label for="user-name">{{ t('signIn.userName') }}</label>
      <InputText
        id="user-name"
        v-model="name"
        fluid
        autocomplete="username"
        autocapitalize="none"
        :readonly="locked"
        required
      />
    </div>
    <div class="field">
      <label for="password">{{ t('signIn.password') }}</label>
      <InputText
        id="password"
        v-model="password"
        type="password"
        fluid
        autocomplete="current-password"
        :autofocus="locked"
        required
      />
    </div>
    <ProblemNote :problem="problem" />
    <Button type="submit" :label="t('act.signIn')" :loading="busy" fluid />
  </form>
</template>

<style scoped>
.field {
  display: flex;
  flex-direction: column;
  gap: 4px;
  font-weight: 600;
}
</style>
