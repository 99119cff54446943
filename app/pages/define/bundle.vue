<script setup lang="ts">
import type { BundleLine } from '#core/contract/definitions'
import { textOfBytes } from '#core/exchange/text'
import type { Tone } from '~/components/common/WordTag.vue'

/** Everything that is defined, out as one file and in again: looked at first, taken in as drafts. */
const words = useWords()
const { t } = words
const text = ref('')
const lines = shallowRef<BundleLine[] | null>(null)
const chosen = ref<string[]>([])
const { busy, problem, run } = useAct()
const key = ({ what, code }: BundleLine) => `${what}/${code}`
const mayTake = ({ verdict }: BundleLine) => verdict === 'new' || verdict === 'changed'
const TONES: Record<BundleLine['verdict'], Tone> = {
  new: 'moss',
  changed: 'amber',
  same: 'plain',
  draftInTheWay: 'brick',
  refused: 'brick',
  taken: 'dusk',
}
async function look(file: File) {
  text.value = textOfBytes(new Uint8Array(await file.arrayBuffer()))
  lines.value = null
  await run(async () => {
    lines.value = await callApi('POST /api/definitions/preview', { body: { text: text.value } })
    chosen.value = lines.value.filter(mayTake).map(key)
  })
}
async function take() {
  const wanted = lines
    .value!.filter(line => chosen.value.includes(key(line)))
    .map(({ what, code }) => ({ what, code }))
  await run(async () => {
    lines.value = await callApi('POST /api/definitions', { body: { text: text.value, take: wanted } })
  })
  chosen.value = []
}
</script>

<template>
  <div class="page">
    <PageHead :title="t('bundle.title')"><DefineTabs /></PageHead>
    <div class="stack">
      <section class="card stack">
        <h2>{{ t('bundle.out') }}</h2>
        <p class="quiet">{{ t('bundle.outHint') }}</p>
        <div>
          <a href="/api/definitions" download="definitions.json">{{ t('bundle.save') }}</a>
        </div>
      </section>
      <section class="card stack">
        <h2>{{ t('bundle.in') }}</h2>
        <p class="quiet">{{ t('bundle.inHint') }}</p>
        <FileButton
          icon="pi-upload"
          :label="t('bundle.choose')"
          accept=".json,application/json"
          @file="look"
        />
        <ProblemNote :problem="problem" />
        <DataTable v-if="lines" :value="lines" :data-key="(line: BundleLine) => key(line)">
          <Column :header="t('bundle.take')"
            ><template #body="{ data: line }"
              ><input
                v-if="mayTake(line)"
                v-model="chosen"
                type="checkbox"
                :value="key(line)"
                :aria-label="t('bundle.takeOne', { name: words.say(line.name) || line.code })" /></template
          ></Column>
          <Column :header="t('bundle.what')"
            ><template #body="{ data: line }">{{ t(`bundle.kind.${line.what}`) }}</template></Column
          >
          <Column :header="t('draft.name')"
            ><template #body="{ data: line }"
              ><strong>{{ words.say(line.name) || line.code }}</strong> <code>{{ line.code }}</code>
              <p v-if="line.problem" class="small wrong">{{ line.problem }}</p>
              <p v-if="line.lost.length" class="small quiet">
                {{ t('bundle.lost', { what: line.lost.join(', ') }) }}
              </p></template
            ></Column
          >
          <Column :header="t('bundle.becomes')"
            ><template #body="{ data: line }"
              ><WordTag :tone="TONES[line.verdict as BundleLine['verdict']]">{{
                t(`bundle.verdict.${line.verdict}`)
              }}</WordTag
              >{{ ' ' }}
              <span v-if="line.differences" class="small quiet">{{
                t('bundle.differences', { count: line.differences }, line.differences)
              }}</span></template
            ></Column
          >
        </DataTable>
        <div v-if="lines?.some(mayTake)">
          <Button
            :label="t('bundle.takeThem', { count: chosen.length }, chosen.length)"
            :disabled="!chosen.length"
            :loading="busy"
            @click="take"
          />
        </div>
      </section>
    </div>
  </div>
</template>

<style scoped>
.wrong {
  color: var(--brick-7);
}
code {
  font-size: 13px;
}
</style>
