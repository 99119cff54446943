<script setup lang="ts">
definePageMeta({ layout: 'plain' })
const { t, locale } = useI18n()
const route = useRoute()
const router = useRouter()
const byCode = ref(Boolean(route.query.code))
useHead({ title: () => t('signIn.title') })

onMounted(async () => {
  const { needed } = await callApi('GET /api/setup', {}).catch(() => ({ needed: false }))
  if (needed) await router.push('/setup')
})

async function go() {
  const next = String(route.query.next ?? '/')
  await router.push(next.startsWith('/') && !next.startsWith('//') ? next : '/')
}
</script>

<template>
  <div class="card box">
    <div class="head">
      <BrandMark />
      <h1>Eastward Lantern</h1>
    </div>
    <CodeForm v-if="byCode" @done="go" />
    <SignInForm v-else @done="go" />
    <button class="language" type="button" @click="byCode = !byCode">
      {{ t(byCode ? 'code.withPassword' : 'code.have') }}
    </button>
    <button class="language" type="button" @click="locale = locale === 'en' ? 'fr' : 'en'">
      {{ t('shell.language', {}, { locale: locale === 'en' ? 'fr' : 'en' }) }}
    </button>
  </div>
</template>

<style scoped>
.box {
  width: min(380px, 100%);
  padding: 26px;
}
.head {
  display: flex;
  align-items: center;
  gap: 10px;
  margin-bottom: 20px;
}
.language {
  margin: 16px auto 0;
  display: block;
  min-height: 32px;
  border: 0;
  background: none;
  color: var(--plum-7);
  font: inherit;
  text-decoration: underline;
  cursor: pointer;
}
</style>
