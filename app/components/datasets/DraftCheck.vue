<script setup lang="ts">
import type { Lack } from '#core/define/readiness'
import type { DraftWork } from '~/composables/useDraft'

/** What the draft lacks and how it differs from what is published; then publishing, which is for ever. */
const { work } = defineProps<{ work: DraftWork }>()
const emit = defineEmits<{ choose: [code: string]; published: [number: number] }>()
const words = useWords()
const { t } = words
const route = useRoute()
const asking = ref(false)
const { busy, problem, run } = useAct()
const file = computed(() => work.file.value!)
const must = computed(() => file.value.lacks.filter(({ weight }) => weight === 'must'))
const should = computed(() => file.value.lacks.filter(({ weight }) => weight === 'should'))
const SHOWN = 12
const itemOf = ({ at }: Lack) => (at.startsWith('items/') ? at.slice('items/'.length) : null)
const about = (lack: Lack) => {
  const item = work.items.value.find(({ code }) => code === itemOf(lack))
  return item ? words.say(item.name) : lack.at.split('/')[1] ?? ''
}
const says = (lack: Lack) => [about(lack), lack.problem ? words.problem(lack.problem) : t(`draft.lack.${lack.code}`, { ...lack.values })].filter(Boolean).join(': ')

async function publish() {
  const done = await run(async () => {
    const { number } = await callApi('POST /api/drafts/:dataset/publish', { params: { dataset: String(route.params.code) }, body: { version: file.value.version } })
    emit('published', number)
  })
  if (done) asking.value = false
}
</script>

<template>
  <section class="card stack">
    <h2>{{ must.length ? t('draft.notReady', { count: must.length }, must.length) : t('draft.ready') }}</h2>
    <ul v-if="must.length" class="must">
      <li v-for="lack in must" :key="lack.at + lack.code"><button v-if="itemOf(lack)" type="button" @click="emit('choose', itemOf(lack)!)">{{ says(lack) }}</button><template v-else>{{ says(lack) }}</template></li>
    </ul>
    <template v-if="should.length">
      <h3>{{ t('draft.better', { count: should.length }, should.length) }}</h3>
      <ul>
        <li v-for="lack in should.slice(0, SHOWN)" :key="lack.at + lack.code"><button v-if="itemOf(lack)" type="button" @click="emit('choose', itemOf(lack)!)">{{ says(lack) }}</button><template v-else>{{ says(lack) }}</template></li>
      </ul>
      <p v-if="should.length > SHOWN" class="small quiet">{{ t('units.more', { count: should.length - SHOWN }, should.length - SHOWN) }}</p>
    </template>
    <template v-if="file.published">
      <h3>{{ file.differences.length ? t('draft.differs', { number: file.published.number }) : t('draft.same', { number: file.published.number }) }}</h3>
      <ul>
        <li v-for="one in file.differences.slice(0, SHOWN)" :key="one.what + one.change + one.code">{{ t(`draft.what.${one.what}`) }} “{{ words.say(one.name) }}”: {{ t(`draft.changed.${one.change}`) }}<span v-if="one.parts" class="quiet"> ({{ one.parts.map(part => t(`draft.part.${part}`)).join(', ') }})</span></li>
      </ul>
    </template>
    <div><Button :label="t('draft.publish', { number: work.draft.value!.number })" icon="pi pi-flag" :disabled="must.length > 0 || file.version === 0 || work.state.value !== 'kept'" @click="asking = true" /></div>
    <AskDialog v-model:visible="asking" :title="t('draft.publish', { number: work.draft.value!.number })" :act="t('draft.publishDo')" :busy="busy" :problem="problem" @go="publish">
      <p>{{ t('draft.publishAsk', { count: file.units }, file.units) }}</p>
    </AskDialog>
  </section>
</template>

<style scoped>
ul { margin: 0; padding-left: 18px; display: flex; flex-direction: column; gap: 3px; }
.must { color: var(--brick-7); }
button { border: 0; padding: 0; background: none; font: inherit; color: inherit; text-decoration: underline; text-align: left; cursor: pointer; }
</style>
