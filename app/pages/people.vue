<script setup lang="ts">
import type { PersonLine } from '#core/contract/people'

/**
 * The people of the installation: who they are, what part they see, when they were last here; let in by a
 * code, switched off.
 */
const words = useWords()
const { t } = words
const session = useSession()
const { asked, ask } = useAsked(['find'])
const sought = useAskedText(
  () => asked.value.find,
  find => ask({ find }),
)
const list = usePages(
  (after?: PersonLine) => callApi('GET /api/people', { query: { ...asked.value, after: after?.id } }),
  () => asked.value.find,
)
const tree = useLoad(ownUnits)
const units = useUnits(() => tree.data.value)
const doing = shallowRef<PersonLine | 'new' | null>(null)
const made = shallowRef<{ userName: string; code: string; until: string } | null>(null)
const { problem, run } = useAct()
async function done(code: typeof made.value) {
  doing.value = null
  made.value = code
  await list.reload()
}
function edit(person: PersonLine) {
  doing.value = person
  window.scrollTo({ top: 0 })
}
const renew = (person: PersonLine) =>
  run(async () => {
    made.value = await callApi('POST /api/people/:id/code', { params: { id: person.id } })
    await list.reload()
  })
</script>

<template>
  <div class="page">
    <PageHead :title="t('people.title')">
      <NuxtLink v-if="session.can('managePeople')" to="/tokens">{{ t('token.title') }}</NuxtLink>
      <template v-if="session.can('managePeople')" #acts
        ><Button icon="pi pi-plus" :label="t('people.add')" @click="doing = 'new'"
      /></template>
    </PageHead>
    <div class="stack">
      <CodeCard v-if="made" :made="made" @close="made = null" />
      <ProblemNote :problem="problem" />
      <PersonForm
        v-if="doing && tree.data.value"
        :key="doing === 'new' ? 'new' : doing.id"
        :person="doing === 'new' ? null : doing"
        :units="units"
        @done="done"
        @cancel="doing = null"
      />
      <LoadState v-slot="{ data }" :load="list">
        <div class="row">
          <InputText
            v-model="sought"
            size="small"
            :placeholder="t('people.find')"
            :aria-label="t('people.find')"
            maxlength="100"
          /><span class="quiet small">{{ t('people.count', { count: data.count }, data.count) }}</span>
        </div>
        <p v-if="!data.lines.length" class="quiet" role="status">{{ t('people.noneFound') }}</p>
        <DataTable v-else :value="data.lines" data-key="id">
          <Column :header="t('people.name')"
            ><template #body="{ data: one }"
              ><strong>{{ one.displayName }}</strong>
              <p class="small quiet">{{ one.userName }}</p></template
            ></Column
          >
          <Column :header="t('people.role')"
            ><template #body="{ data: one }"
              >{{ t(`role.${one.role}`) }}
              <p v-if="one.ownOnly" class="small quiet">{{ t('people.onlyOwn') }}</p></template
            ></Column
          >
          <Column :header="t('people.branch')"
            ><template #body="{ data: one }">{{
              one.branch?.name ?? t('people.everything')
            }}</template></Column
          >
          <Column :header="t('people.lastSeen')"
            ><template #body="{ data: one }"
              ><WordTag v-if="!one.active" tone="brick">{{ t('people.off') }}</WordTag
              ><template v-else-if="one.lastSeenAt">{{ words.moment(one.lastSeenAt) }}</template
              ><span v-else class="quiet">{{ t('people.never') }}</span>
              <p v-if="one.codeUntil" class="small quiet">
                {{ t('people.codeOpen', { until: words.day(one.codeUntil) }) }}
              </p></template
            ></Column
          >
          <Column :header="t('people.acts')"
            ><template #body="{ data: one }"
              ><div class="acts">
                <Button
                  size="small"
                  text
                  :label="t('people.change')"
                  :aria-label="t('people.changeOne', { name: one.displayName })"
                  @click="doing = one"
                /><Button
                  size="small"
                  text
                  :label="t('people.newCode')"
                  :aria-label="t('people.newCodeOne', { name: one.displayName })"
                  :disabled="!one.active"
                  @click="renew(one)"
                /></div></template
          ></Column>
        </DataTable>
        <ShowMore :more="data.more" @show="list.showMore()" />
      </LoadState>
      <SharingTable
        v-if="session.can('managePeople') && list.data.value"
        :people="list.data.value.lines"
        @changed="list.reload()"
        @edit="edit"
      />
      <DutyTable v-if="session.can('managePeople')" />
    </div>
  </div>
</template>

<style scoped>
.acts {
  display: flex;
}
</style>
