<script setup lang="ts">
import { writeCsv } from '#core/exchange/csv'
import { dictionaryTable } from '#core/extract/dictionary'
import { fold, searchWords } from '#core/form/code'

/** From the question in an analyst's head to the column in the file, and what an indicator is computed from. */
const words = useWords()
const { t } = words
const { asked, ask } = useAsked(['of', 'find'])
const sources = useLoad(() => callApi('GET /api/extract-sources', {}))
const of = computed({
  get: () => asked.value.of ?? sources.data.value?.[0]?.of ?? null,
  set: code => void ask({ of: code }),
})
const options = computed(() =>
  (sources.data.value ?? []).map(one => ({ value: one.of as string | null, label: words.say(one.name) })),
)
const language = computed(() => (words.locale.value === 'fr' ? 'fr' : 'en'))
const dictionary = useLoad(
  async () =>
    of.value ? callApi('GET /api/dictionary', { query: { of: of.value, language: language.value } }) : null,
  () => `${of.value} ${language.value}`,
)
const text = useAskedText(
  () => asked.value.find,
  find => ask({ find }),
)
const hits = computed(() => {
  const wanted = searchWords(asked.value.find ?? '')
  return (dictionary.data.value?.lines ?? []).filter(line => {
    const all = fold(Object.values(line).join(' '))
    return wanted.every(word => all.includes(word))
  })
})
/** So many are drawn at once. */
const PAGE = 100
const shown = ref(PAGE)
watch([() => asked.value.find, of], () => (shown.value = PAGE))
function download() {
  const all = dictionary.data.value!
  saveFile(
    `${all.of}-dictionary.csv`,
    'text/csv;charset=utf-8',
    `\uFEFF${writeCsv(dictionaryTable(all, language.value))}`,
  )
}
</script>

<template>
  <div class="page">
    <PageHead :title="t('dictionary.title')">
      <NuxtLink to="/extracts">{{ t('place.extracts') }}</NuxtLink>
      <template #acts
        ><Button
          severity="secondary"
          outlined
          icon="pi pi-download"
          :disabled="!dictionary.data.value"
          :label="t('dictionary.file')"
          @click="download"
      /></template>
    </PageHead>
    <LoadState :load="sources" :empty="sources.data.value?.length === 0" :empty-text="t('extract.noSource')">
      <div class="stack">
        <div class="fields">
          <PickOne v-model="of" input-id="dictionary-of" :label="t('dictionary.of')" :options="options" />
          <div class="field wide">
            <label for="dictionary-find">{{ t('extract.find') }}</label>
            <InputText id="dictionary-find" v-model="text" maxlength="100" />
          </div>
        </div>
        <LoadState v-slot="{ data }" :load="dictionary">
          <template v-if="data">
            <section v-if="data.indicators.length && !asked.find" class="card" aria-labelledby="rates">
              <h2 id="rates">{{ t('dictionary.indicators') }}</h2>
              <dl>
                <div v-for="one in data.indicators" :key="one.code" class="rate">
                  <dt>
                    <strong>{{ one.name }}</strong> <span class="code quiet">{{ one.code }}</span>
                  </dt>
                  <dd>
                    <code>({{ one.numerator }}) / ({{ one.denominator }}) × {{ one.factor }}</code>
                    {{ one.unitOfMeasure }}
                    <p class="small quiet">{{ t('dictionary.uses', { columns: one.uses.join(', ') }) }}</p>
                  </dd>
                </div>
              </dl>
            </section>
            <p class="quiet" role="status">
              {{
                t('dictionary.found', {
                  found: words.number(hits.length),
                  all: words.number(data.lines.length),
                })
              }}
            </p>
            <div class="scroll">
              <DataTable
                :value="hits.slice(0, shown)"
                data-key="path"
                :table-props="{ 'aria-label': t('dictionary.title') }"
              >
                <Column :header="t('dictionary.column')"
                  ><template #body="{ data: one }"
                    ><code>{{ one.short }}</code>
                    <p class="small quiet path">{{ one.path }}</p></template
                  ></Column
                >
                <Column :header="t('dictionary.question')"
                  ><template #body="{ data: one }"
                    ><strong>{{ one.label }}</strong>
                    <p v-if="one.definition" class="small">{{ one.definition }}</p></template
                  ></Column
                >
                <Column :header="t('dictionary.answer')"
                  ><template #body="{ data: one }"
                    >{{ t(`kind.${one.kind}`)
                    }}<template v-if="one.unitOfMeasure">, {{ one.unitOfMeasure }}</template
                    ><template v-if="one.limits">, {{ one.limits }}</template>
                    <p v-if="one.choices" class="small quiet">{{ one.choices }}</p></template
                  ></Column
                >
                <Column :header="t('dictionary.when')"
                  ><template #body="{ data: one }"
                    ><code v-if="one.condition">{{ one.condition }}</code
                    ><code v-if="one.expression">= {{ one.expression }}</code></template
                  ></Column
                >
                <Column field="editions" :header="t('dictionary.editions')" />
              </DataTable>
            </div>
            <ShowMore :more="hits.length > shown" @show="shown += PAGE" />
          </template>
        </LoadState>
      </div>
    </LoadState>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.rate + .rate {
  margin-top: 8px;
}
.rate dd {
  margin: 0;
}
.path,
.code {
  font-size: 12px;
  overflow-wrap: anywhere;
}
code {
  font-size: 13px;
}
</style>
