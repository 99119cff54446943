<script setup lang="ts">
import type { TokenLine } from '#core/contract/tokens'

/** Tokens by which programs of other systems read and write here: made, seen at work, ended. */
const words = useWords()
const { t } = words
const tokens = usePages((after: TokenLine | undefined) =>
  callApi('GET /api/tokens', { query: { after: after?.id } }),
)
const tree = useLoad(ownUnits)
const units = useUnits(() => tree.data.value)
const isNew = ref(false)
const made = shallowRef<{ name: string; token: string } | null>(null)
async function done(token: { name: string; token: string }) {
  isNew.value = false
  made.value = token
  await tokens.reload()
}
const ending = shallowRef<TokenLine | null>(null)
const isEnding = openWhile(ending)
const { busy, problem, run } = useAct()
async function end() {
  if (!(await run(() => callApi('POST /api/tokens/:id/end', { params: { id: ending.value!.id } })))) return
  ending.value = null
  await tokens.reload()
}
const TONES = { good: 'moss', over: 'dusk', ended: 'brick' } as const
</script>

<template>
  <div class="page">
    <PageHead :title="t('token.title')">
      <a href="/api/openapi.json" target="_blank">{{ t('token.document') }}</a>
      <template #acts><Button icon="pi pi-plus" :label="t('token.add')" @click="isNew = true" /></template>
    </PageHead>
    <div class="stack">
      <p class="quiet">{{ t('token.hint') }}</p>
      <TokenCard v-if="made" :key="made.token" :made="made" @close="made = null" />
      <TokenForm v-if="isNew && tree.data.value" :units="units" @made="done" @cancel="isNew = false" />
      <LoadState
        v-slot="{ data }"
        :load="tokens"
        :empty="tokens.data.value?.lines.length === 0"
        :empty-text="t('token.none')"
      >
        <DataTable :value="data.lines" data-key="id" :table-props="{ 'aria-label': t('token.title') }">
          <Column :header="t('token.program')"
            ><template #body="{ data: one }"
              ><strong>{{ one.name }}</strong>
              <p class="small quiet">{{ t('token.endsWith', { last: one.lastFour }) }}</p></template
            ></Column
          >
          <Column :header="t('people.branch')"
            ><template #body="{ data: one }">{{
              one.branch?.name ?? t('people.everything')
            }}</template></Column
          >
          <Column :header="t('token.gives')"
            ><template #body="{ data: one }"
              ><p v-for="give in (one as TokenLine).gives" :key="give" class="small">
                {{ t(`token.give.${give}`) }}
              </p>
              <p v-if="!one.gives.length" class="small quiet">{{ t('token.always') }}</p></template
            ></Column
          >
          <Column :header="t('token.until')"
            ><template #body="{ data: one }"
              >{{ words.dueDay(one.endsAt) }}
              <p>
                <WordTag :tone="TONES[(one as TokenLine).state]">{{ t(`token.state.${one.state}`) }}</WordTag>
              </p></template
            ></Column
          >
          <Column :header="t('token.lastUsed')"
            ><template #body="{ data: one }"
              ><template v-if="one.lastUsedAt">{{ words.moment(one.lastUsedAt) }}</template
              ><span v-else class="quiet">{{ t('people.never') }}</span>
              <p class="small quiet">
                {{ t('token.madeBy', { by: one.madeBy, on: words.day(one.madeAt) }) }}
              </p></template
            ></Column
          >
          <Column
            ><template #header
              ><span class="visually-hidden">{{ t('people.acts') }}</span></template
            ><template #body="{ data: one }"
              ><Button
                v-if="one.state === 'good'"
                size="small"
                severity="secondary"
                outlined
                :label="t('token.end')"
                :aria-label="t('token.endOne', { name: one.name })"
                @click="ending = one as TokenLine" /></template
          ></Column>
        </DataTable>
        <ShowMore :more="data.more" @show="tokens.showMore()" />
      </LoadState>
    </div>
    <AskDialog
      v-model:visible="isEnding"
      :title="t('token.endOne', { name: ending?.name ?? '' })"
      :act="t('token.end')"
      :busy="busy"
      :problem="problem"
      @go="end"
    >
      <p>{{ t('token.endSay') }}</p>
    </AskDialog>
  </div>
</template>
