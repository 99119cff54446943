<script setup lang="ts">
import type { Lack } from '#core/define/readiness'
import type { ToldDifference } from './DifferenceList.vue'

/** What a draft lacks and how it differs from what is published; then publishing, which is for ever. */
const { lacks, differences, number, ready, nameOf, asked, publish } = defineProps<{
  lacks: readonly Lack[]
  /** null before the first edition. */
  differences: readonly ToldDifference[] | null
  /** Of the edition that it would become. */
  number: number
  /** Is everything kept, so that what is published is what is seen? */
  ready: boolean
  nameOf: (at: string) => string
  asked: string
  publish: () => Promise<number>
}>()
const emit = defineEmits<{ choose: [at: string]; published: [number: number] }>()
const words = useWords()
const { t } = words
const asking = ref(false)
const { busy, problem, run } = useAct()
const SHOWN = 12
const must = computed(() => lacks.filter(({ weight }) => weight === 'must'))
const should = computed(() => lacks.filter(({ weight }) => weight === 'should'))
function says(lack: Lack): string {
  const name = nameOf(lack.at)
  const what = lack.problem ? words.problem(lack.problem) : t(`draft.lack.${lack.code}`, { ...lack.values })
  return name ? words.pair(name, what) : what
}
const leads = ({ at }: Lack) => at.includes('/')

async function go() {
  const done = await run(async () => {
    emit('published', await publish())
  })
  if (done) asking.value = false
}
</script>

<template>
  <section class="card stack">
    <h2>{{ must.length ? t('draft.notReady', { count: must.length }, must.length) : t('draft.ready') }}</h2>
    <ul v-if="must.length" class="must">
      <li v-for="(lack, at) in must" :key="at">
        <button v-if="leads(lack)" type="button" class="textual" @click="emit('choose', lack.at)">
          {{ says(lack) }}</button><template v-else>{{ says(lack) }}</template>
      </li>
    </ul>
    <template v-if="should.length">
      <h3>{{ t('draft.better', { count: should.length }, should.length) }}</h3>
      <ul>
        <li v-for="(lack, at) in should.slice(0, SHOWN)" :key="at">
          <button v-if="leads(lack)" type="button" class="textual" @click="emit('choose', lack.at)">
            {{ says(lack) }}</button><template v-else>{{ says(lack) }}</template>
        </li>
      </ul>
      <p v-if="should.length > SHOWN" class="small quiet">
        {{ t('units.more', { count: should.length - SHOWN }, should.length - SHOWN) }}
      </p>
    </template>
    <template v-if="differences">
      <h3>
        {{
          differences.length
            ? t('draft.differs', { number: number - 1 })
            : t('draft.same', { number: number - 1 })
        }}
      </h3>
      <DifferenceList :differences="differences" />
    </template>
    <div>
      <Button
        :label="t('draft.publish', { number })"
        icon="pi pi-flag"
        :disabled="must.length > 0 || !ready"
        @click="asking = true"
      />
    </div>
    <AskDialog
      v-model:visible="asking"
      :title="t('draft.publish', { number })"
      :act="t('draft.publishDo')"
      :busy="busy"
      :problem="problem"
      @go="go"
    >
      <p>{{ asked }}</p>
      <slot name="asks" />
    </AskDialog>
  </section>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 18px;
  display: flex;
  flex-direction: column;
  gap: 3px;
}
.must {
  color: var(--brick-7);
}
</style>
