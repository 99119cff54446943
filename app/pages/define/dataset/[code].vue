<script setup lang="ts">
/** One dataset while it is defined: its outline in paper order, the item that is chosen, what it lacks, and publishing. */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const code = computed(() => String(route.params.code))
const load = useLoad(() => callApi('GET /api/drafts/:dataset', { params: { dataset: code.value } }), () => code.value)
const tree = useLoad(() => callApi('GET /api/units', { query: {} }))
const work = useDraft(() => code.value, () => load.data.value)
const { draft, state, problem } = work
const pasting = ref(false)
const published = ref(0)
const chosen = computed(() => (route.query.item ? String(route.query.item) : null))
const item = computed(() => work.items.value.find(one => one.code === chosen.value) ?? null)
const choose = (next: string) => router.replace({ query: { item: next } })
const newSection = ref('')
function addSection() {
  if (!newSection.value.trim()) return
  work.addSection(newSection.value.trim())
  newSection.value = ''
}
async function done(number: number) {
  published.value = number
  await load.reload()
}
useKeys([{ key: 'Alt ↑ ↓', says: 'keys.moveItem' }, { key: 'Delete', says: 'keys.removeItem' }])
</script>

<template>
  <div class="page">
    <LoadState :load="load">
      <PageHead :title="draft ? words.say(draft.name) || code : code">
        <span class="quiet small" role="status">{{ t(`draft.state.${state}`) }}</span>
        <template #acts><Button severity="secondary" outlined icon="pi pi-clipboard" :label="t('draft.paste')" @click="pasting = true" /></template>
      </PageHead>
      <Message v-if="published" severity="success" closable @close="published = 0">{{ t('draft.published', { number: published }) }} <NuxtLink to="/gather">{{ t('place.gather') }}</NuxtLink></Message>
      <ProblemNote :problem="problem" />
      <div v-if="problem?.code === 'draft-changed'" class="row"><Button size="small" severity="secondary" outlined :label="t('draft.takeTheirs')" @click="load.reload()" /></div>
      <div v-if="draft && work.reports.value && work.file.value" class="work">
        <div class="stack">
          <DraftOutline :work="work" :chosen="chosen" @choose="choose" />
          <form class="row" @submit.prevent="addSection"><InputText v-model="newSection" size="small" :placeholder="t('draft.newSection')" :aria-label="t('draft.newSection')" maxlength="200" /><Button type="submit" size="small" text icon="pi pi-plus" :label="t('draft.addSection')" /></form>
        </div>
        <div class="stack">
          <ItemForm v-if="item" :key="item.code" :model-value="item" :work="work" @recoded="choose" />
          <DatasetForm :work="work" :levels="tree.data.value?.levels.map(words.say) ?? []" />
          <DraftCheck :work="work" @choose="choose" @published="done" />
        </div>
      </div>
      <PasteList v-model:visible="pasting" :work="work" />
    </LoadState>
  </div>
</template>

<style scoped>
.work { display: grid; grid-template-columns: minmax(280px, 380px) minmax(0, 1fr); gap: 22px; align-items: start; }
@media (width < 1024px) { .work { grid-template-columns: minmax(0, 1fr); } }
</style>
