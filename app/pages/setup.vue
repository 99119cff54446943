<script setup lang="ts">
/** The first start of an installation: who can read the server's log makes the administrator. */
definePageMeta({ layout: 'plain' })
const { t } = useI18n()
const router = useRouter()
useHead({ title: () => t('setup.title') })

const form = reactive({
  code: '',
  installation: '',
  timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  userName: '',
  displayName: '',
  password: '',
})
const FIELDS = ['code', 'installation', 'timeZone', 'displayName', 'userName', 'password'] as const
const needed = useLoad(() => callApi('GET /api/setup', {}))
const { busy, problem, run } = useAct()

async function submit() {
  if (await run(() => callApi('POST /api/setup', { body: { ...form } }))) await router.push('/sign-in')
}
const wrong = (field: string) => problem.value?.problems.some(({ at }) => at === `body/${field}`) ?? false
</script>

<template>
  <div class="card box">
    <h1>{{ t('setup.title') }}</h1>
    <LoadState v-slot="{ data }" :load="needed">
      <p v-if="!data.needed" class="done">
        {{ t('setup.done') }} <NuxtLink to="/sign-in">{{ t('act.signIn') }}</NuxtLink>
      </p>
      <form v-else class="stack" @submit.prevent="submit">
        <p class="quiet">{{ t('setup.say') }}</p>
        <div v-for="field in FIELDS" :key="field" class="field">
          <label :for="`setup-${field}`">{{ t(`setup.${field}`) }}</label>
          <InputText
            :id="`setup-${field}`"
            v-model="form[field]"
            :type="field === 'password' ? 'password' : 'text'"
            :invalid="wrong(field)"
            fluid
            required
            :autocomplete="field === 'password' ? 'new-password' : 'off'"
          />
          <small v-if="wrong(field)" class="wrong">{{ t(`setup.wrong.${field}`) }}</small>
        </div>
        <ProblemNote :problem="problem" />
        <Button type="submit" :label="t('setup.make')" :loading="busy" />
      </form>
    </LoadState>
  </div>
</template>

<style scoped>
.box {
  width: min(420px, 100%);
  padding: 26px;
}
.box h1 {
  margin-bottom: 12px;
}
.field {
  display: flex;
  flex-direction: column;
  gap: 4px;
  font-weight: 600;
}
.wrong {
  color: var(--brick-7);
}
.done {
  padding: 12px 0;
}
</style>
