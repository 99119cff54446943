<script setup lang="ts">
import type { PairFile } from '#core/contract/case-pairs'

/** One pair: why it is asked about, both files, and the ways out. */
const { file } = defineProps<{ file: PairFile }>()
const emit = defineEmits<{ done: [] }>()
const words = useWords()
const { t } = words
const session = useSession()
const { busy, problem, run } = useAct()
const mayDecide = computed(() => session.can('resolve') && file.mine)
const PARTS = ['identifier', 'name', 'birth', 'sex', 'place'] as const
const reasons = computed(() =>
  PARTS.flatMap(part => {
    const share = file.line.parts[part]
    return share === undefined
      ? []
      : [t('pairs.partAlike', { part: t(`pairs.part.${part}`), share: words.percent(share) })]
  }),
)
const why = ref('')
const saysApart = ref(false)
const asksMerge = ref<string | null>(null)
const merging = openWhile(asksMerge)
const params = computed(() => ({ id: file.line.id }))
async function decide(act: () => Promise<unknown>) {
  if (!(await run(act))) return
  asksMerge.value = null
  saysApart.value = false
  why.value = ''
  emit('done')
}
const merge = () =>
  decide(() =>
    callApi('POST /api/case-pairs/:id/merge', { params: params.value, body: { kept: asksMerge.value! } }),
  )
const keepApart = () =>
  decide(() => callApi('POST /api/case-pairs/:id/apart', { params: params.value, body: { text: why.value } }))
const undo = () => decide(() => callApi('POST /api/case-pairs/:id/undo', { params: params.value }))
const isDecided = computed(() => file.line.state === 'merged' || file.line.state === 'apart')
const sides = computed(() => [file.line.one, file.line.other])
const sideName = (id: string) => sides.value.find(side => side.id === id)?.unit.name ?? ''
</script>

<template>
  <div class="stack">
    <header class="spread">
      <h2>{{ t('pairs.likeness', { share: words.percent(file.line.score) }) }}</h2>
      <WordTag :tone="file.line.state === 'open' ? 'amber' : 'plain'">{{
        t(`pairs.state.${file.line.state}`)
      }}</WordTag>
    </header>
    <p class="small quiet">{{ reasons.join(' · ') }}</p>
    <ul v-if="file.events.length" class="plain-list stack">
      <li v-for="event in file.events" :key="event.at" class="small">
        <strong>{{ t(`pairs.act.${event.act}`) }}</strong> · {{ event.by }} · {{ words.moment(event.at)
        }}<template v-if="event.text"> · {{ event.text }}</template>
      </li>
    </ul>
    <ProblemNote :problem="problem" />
    <template v-if="mayDecide">
      <template v-if="file.line.state === 'open'">
        <p>{{ t('pairs.keepWhich') }}</p>
        <div class="row">
          <Button
            v-for="(side, at) in sides"
            :key="side.id"
            :loading="busy"
            :severity="at ? 'secondary' : undefined"
            :label="t(at ? 'pairs.keepRight' : 'pairs.keepLeft')"
            @click="asksMerge = side.id"
          />
          <Button severity="secondary" outlined :label="t('pairs.two')" @click="saysApart = !saysApart" />
        </div>
        <form v-if="saysApart" class="stack" @submit.prevent="keepApart">
          <div class="field">
            <label for="pair-why">{{ t('pairs.whyTwo') }}</label>
            <Textarea id="pair-why" v-model="why" rows="2" maxlength="500" required minlength="2" />
          </div>
          <Button
            type="submit"
            class="start"
            :disabled="why.trim().length < 2"
            :loading="busy"
            :label="t('pairs.two')"
          />
        </form>
      </template>
      <Button
        v-else-if="isDecided"
        class="start"
        severity="secondary"
        outlined
        :loading="busy"
        :label="t('pairs.undo')"
        @click="undo"
      />
    </template>
    <p v-else-if="!file.mine" class="quiet">{{ t('pairs.notMine') }}</p>
    <PairFiles :file="file" />
    <AskDialog
      v-if="asksMerge"
      v-model:visible="merging"
      :title="t('pairs.mergeTitle')"
      :act="t('pairs.merge')"
      @go="merge"
      ><p>{{ t('pairs.mergeAsk', { unit: sideName(asksMerge) }) }}</p></AskDialog
    >
  </div>
</template>

<style scoped>
h2,
p {
  margin: 0;
}
.start {
  align-self: flex-start;
}
</style>
