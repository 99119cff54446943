<script setup lang="ts">
import { codeFromLabel } from '#core/form/code'

/** Case registers: those that are published, those in work, and the beginning of a new one. */
const words = useWords()
const { t, locale } = words
const router = useRouter()
const load = useLoad(() => callApi('GET /api/registers', {}))
const { problem, run } = useAct()
async function begin(name: string) {
  const register = codeFromLabel(
    name,
    (load.data.value ?? []).map(one => one.register),
  )
  const made = await run(() =>
    callApi('PUT /api/registers/:register', {
      params: { register },
      body: {
        version: 0,
        draft: {
          code: register,
          name: { [locale.value]: name },
          subject: 'person',
          forms: [],
          line: [],
          identity: { identifiers: [] },
          countingDate: '',
          rules: [],
        },
      },
    }),
  )
  if (made) await router.push(`/define/register/${register}`)
}
</script>

<template>
  <div class="page">
    <PageHead :title="t('register.all')"><DefineTabs /></PageHead>
    <LoadState v-slot="{ data }" :load="load">
      <p v-if="!data.length" class="quiet">{{ t('register.noneYet') }}</p>
      <DataTable v-else :value="data" data-key="register">
        <Column :header="t('draft.name')"
          ><template #body="{ data: one }"
            ><NuxtLink :to="`/define/register/${one.register}`">{{
              words.say(one.name) || one.register
            }}</NuxtLink></template
          ></Column
        >
        <Column :header="t('define.code')"
          ><template #body="{ data: one }"
            ><code>{{ one.register }}</code></template
          ></Column
        >
        <Column :header="t('register.published')"
          ><template #body="{ data: one }">{{
            one.edition === null ? t('draft.new') : t('define.editionShort', { number: one.edition })
          }}</template></Column
        >
        <Column :header="t('draft.drafts')"
          ><template #body="{ data: one }">{{
            one.draft ? t('units.by', { by: one.draft.by, at: words.moment(one.draft.at) }) : '–'
          }}</template></Column
        >
      </DataTable>
    </LoadState>
    <div class="new"><AddByName :label="t('register.begin')" @add="begin" /></div>
    <ProblemNote :problem="problem" />
  </div>
</template>

<style scoped>
.new {
  max-width: 420px;
  margin-top: 14px;
}
</style>
