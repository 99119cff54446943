<script setup lang="ts">
import { codeFromLabel } from '#core/form/code'

/** Drafts that somebody works on, and the beginning of a new dataset. */
const { taken } = defineProps<{ taken: string[] }>()
const words = useWords()
const { t, locale } = words
const router = useRouter()
const session = useSession()
const drafts = useLoad(() => callApi('GET /api/drafts', {}))
const asking = ref(false)
const title = ref('')
const { busy, problem, run } = useAct()

async function begin() {
  const name = title.value.trim()
  if (!name) return
  const dataset = codeFromLabel(name, [...taken, ...(drafts.data.value ?? []).map(one => one.dataset)])
  const made = await run(async () => {
    const { units, levels, day } = await ownUnits()
    const top = session.view?.branch?.unit.code ?? units.find(({ parent }) => parent === null)?.code
    if (!top) throw new ApiProblem(409, 'no-units', '')
    await callApi('PUT /api/drafts/:dataset', {
      params: { dataset },
      body: {
        version: 0,
        reports: [
          { by: 'level', level: levels.length, branch: top, from: `${day.slice(0, 7)}-01`, to: null },
        ],
        draft: {
          dataset,
          number: 1,
          name: { [locale.value]: name },
          frequency: 'month',
          timing: { opensAhead: 0, dueDays: 7, closeDays: 14 },
          axes: [],
          sections: [],
          rules: [],
          indicators: [],
        },
      },
    })
  })
  if (made) await router.push(`/define/dataset/${dataset}`)
}
</script>

<template>
  <section class="card stack">
    <div class="spread">
      <h2>{{ t('draft.drafts') }}</h2>
      <Button icon="pi pi-plus" size="small" :label="t('draft.begin')" @click="asking = true" />
    </div>
    <LoadState v-slot="{ data }" :load="drafts">
      <p v-if="!data.length" class="quiet">{{ t('draft.none') }}</p>
      <ul v-else>
        <li v-for="one in data" :key="one.dataset">
          <NuxtLink :to="`/define/dataset/${one.dataset}`">{{ words.say(one.name) }}</NuxtLink>{{ ' ' }}
          <span class="small quiet"
            >{{ one.edition ? t('draft.after', { number: one.edition }) : t('draft.new') }} ·
            {{ t('units.by', { by: one.by, at: words.moment(one.at) }) }}</span
          >
        </li>
      </ul>
    </LoadState>
    <Dialog v-model:visible="asking" modal :header="t('draft.begin')" :style="{ width: '480px' }">
      <form id="begin" class="stack" @submit.prevent="begin">
        <label for="new-title">{{ t('draft.titleHint') }}</label>
        <InputText id="new-title" v-model="title" autofocus maxlength="200" />
        <ProblemNote :problem="problem" />
      </form>
      <template #footer>
        <Button severity="secondary" text :label="t('act.cancel')" @click="asking = false" />
        <Button
          type="submit"
          form="begin"
          :label="t('draft.begin')"
          :loading="busy"
          :disabled="!title.trim()"
        />
      </template>
    </Dialog>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
