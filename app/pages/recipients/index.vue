<script setup lang="ts">
import type { RecipientLine } from '#core/contract/sending'

/** Other systems that get signed reports: where they are, in which format, and what they take. */
const words = useWords()
const { t } = words
const router = useRouter()
const list = useLoad(() => callApi('GET /api/recipients', {}))
const doing = shallowRef<RecipientLine | 'new' | null>(null)
const ending = shallowRef<RecipientLine | null>(null)
const isEnding = openWhile(ending)
const { busy, problem, run } = useAct()
async function done(recipient: RecipientLine) {
  const isNew = doing.value === 'new'
  doing.value = null
  // What comes next is always the codes.
  if (isNew) await router.push(`/recipients/${recipient.id}`)
  else await list.reload()
}
async function end() {
  if (!(await run(() => callApi('POST /api/recipients/:id/end', { params: { id: ending.value!.id } }))))
    return
  ending.value = null
  await list.reload()
}
</script>

<template>
  <div class="page">
    <PageHead :title="t('recipient.title')">
      <NuxtLink to="/report">{{ t('recipient.toReports') }}</NuxtLink>
      <template #acts
        ><Button icon="pi pi-plus" :label="t('recipient.add')" @click="doing = 'new'"
      /></template>
    </PageHead>
    <div class="stack">
      <p class="quiet">{{ t('recipient.hint') }}</p>
      <RecipientForm
        v-if="doing"
        :key="doing === 'new' ? 'new' : doing.id"
        :recipient="doing === 'new' ? null : doing"
        @done="done"
        @cancel="doing = null"
      />
      <LoadState
        v-slot="{ data }"
        :load="list"
        :empty="list.data.value?.lines.length === 0"
        :empty-text="t('recipient.none')"
      >
        <DataTable :value="data.lines" data-key="id" :table-props="{ 'aria-label': t('recipient.title') }">
          <Column :header="t('recipient.name')"
            ><template #body="{ data: one }"
              ><strong>{{ one.name }}</strong>
              <p class="small quiet">
                {{ t('token.madeBy', { by: one.madeBy, on: words.day(one.madeAt) }) }}
              </p></template
            ></Column
          >
          <Column :header="t('recipient.where')"
            ><template #body="{ data: one }"
              ><span class="address">{{ one.address }}</span>
              <p class="small quiet">{{ t(`recipient.as.${(one as RecipientLine).format}`) }}</p></template
            ></Column
          >
          <Column :header="t('recipient.takes')"
            ><template #body="{ data: one }"
              ><p v-for="dataset in (one as RecipientLine).datasets" :key="dataset.code">
                <NuxtLink :to="`/recipients/${one.id}?dataset=${dataset.code}`">{{
                  words.say(dataset.name)
                }}</NuxtLink>
              </p>
              <NuxtLink v-if="!one.datasets.length" :to="`/recipients/${one.id}`">{{
                t('recipient.giveCodes')
              }}</NuxtLink>
              <p v-if="one.extracts !== 'none'" class="small quiet">
                {{ t('recipient.extracts') }}: {{ t(`recipient.takesExtracts.${one.extracts}`) }}
              </p></template
            ></Column
          >
          <Column :header="t('recipient.lastAnswer')"
            ><template #body="{ data: one }"
              ><template v-if="one.lastAnsweredAt">{{ words.moment(one.lastAnsweredAt) }}</template
              ><span v-else class="quiet">{{ t('people.never') }}</span></template
            ></Column
          >
          <Column
            ><template #header
              ><span class="visually-hidden">{{ t('people.acts') }}</span></template
            ><template #body="{ data: one }"
              ><div class="row acts">
                <Button
                  size="small"
                  severity="secondary"
                  outlined
                  :label="t('recipient.edit')"
                  :aria-label="`${t('recipient.edit')}: ${one.name}`"
                  @click="doing = one as RecipientLine"
                /><Button
                  size="small"
                  severity="secondary"
                  text
                  :label="t('token.end')"
                  :aria-label="`${t('token.end')}: ${one.name}`"
                  @click="ending = one as RecipientLine"
                /></div></template
          ></Column>
        </DataTable>
      </LoadState>
    </div>
    <AskDialog
      v-model:visible="isEnding"
      :title="t('recipient.endOne', { name: ending?.name ?? '' })"
      :act="t('token.end')"
      :busy="busy"
      :problem="problem"
      @go="end"
    >
      <p>{{ t('recipient.endSay') }}</p>
    </AskDialog>
  </div>
</template>

<style scoped>
.address {
  overflow-wrap: anywhere;
}
.acts {
  flex-wrap: nowrap;
}
</style>
