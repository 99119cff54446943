<script setup lang="ts">
import type { PersonLine } from '#core/contract/people'
import { DUTIES, grantsOf, type Permission } from '#core/contract/permission'

/** Person by person: what each sees, and what of the role they may do; a tick takes it away or gives it back. */
const { people } = defineProps<{ people: readonly PersonLine[] }>()
const emit = defineEmits<{ changed: []; edit: [person: PersonLine] }>()
const words = useWords()
const { t } = words
const session = useSession()
const { problem, run } = useAct()
/** Two duties that are one permission are given and taken together. */
const columns = Object.entries(DUTIES).filter(
  ([, permission], at, all) =>
    permission !== 'look' && all.findIndex(([, other]) => other === permission) === at,
)
const has = ({ role, without }: PersonLine, permission: Permission) =>
  grantsOf(role).includes(permission) && !without.some(one => one === permission)
const mayChange = (person: PersonLine, permission: Permission) =>
  person.id !== session.view?.person.id && grantsOf(person.role).includes(permission)
const toggle = (person: PersonLine, permission: PersonLine['without'][number]) =>
  run(async () => {
    const { id, displayName, role, branch, ownOnly, without, sharing, active } = person
    await callApi('PUT /api/people/:id', {
      params: { id },
      body: {
        ...{ displayName, role, branch: branch?.code ?? null, ownOnly, sharing, active },
        without: without.includes(permission)
          ? without.filter(one => one !== permission)
          : [...without, permission],
      },
    })
    emit('changed')
  })
const seesText = ({ sharing, ownOnly }: PersonLine) => {
  if (!sharing) return t(ownOnly ? 'people.onlyOwn' : 'people.allOfBranch')
  const { datasets, registers } = sharing
  return [
    datasets ? t('people.datasets', { count: datasets.length }, datasets.length) : t('people.allDatasets'),
    registers
      ? t('people.registers', { count: registers.length }, registers.length)
      : t('people.allRegisters'),
    ...(registers?.some(({ where }) => where) ? [t('people.someCases')] : []),
  ].join(', ')
}
</script>

<template>
  <section class="card stack">
    <h2>{{ t('people.matrix') }}</h2>
    <p class="small quiet">{{ t('people.matrixHint') }}</p>
    <ProblemNote :problem="problem" />
    <DataTable
      :value="[...people]"
      data-key="id"
      paginator
      :rows="10"
      :always-show-paginator="false"
      scrollable
      :table-props="{ 'aria-label': t('people.matrix') }"
      :pt="{ pcPaginator: { paginatorContainer: { 'aria-label': t('people.matrix') } } }"
    >
      <Column :header="t('people.name')" class="who" frozen
        ><template #body="{ data: one }"
          ><strong>{{ one.displayName }}</strong>
          <p class="small quiet">
            {{ t(`role.${one.role}`) }}, {{ one.branch?.name ?? t('people.everything') }}
          </p></template
        ></Column
      >
      <Column :header="t('people.sees')" class="who"
        ><template #body="{ data: one }"
          ><button type="button" class="textual" @click="emit('edit', one)">
            {{ seesText(one) }}
          </button></template
        ></Column
      >
      <Column v-for="[duty, permission] in columns" :key="duty" class="duty"
        ><template #header
          ><span class="head">{{ t(`people.duty.${duty}`) }}</span></template
        ><template #body="{ data: one }"
          ><Checkbox
            v-if="grantsOf(one.role).includes(permission)"
            :model-value="has(one, permission)"
            binary
            :disabled="!mayChange(one, permission)"
            :aria-label="`${one.displayName}: ${t(`people.duty.${duty}`)}`"
            @update:model-value="toggle(one, permission as PersonLine['without'][number])"
          /><span v-else class="quiet">{{ t('people.mayNot') }}</span></template
        ></Column
      >
    </DataTable>
  </section>
</template>

<style scoped>
.head {
  display: block;
  min-width: 92px;
  white-space: normal;
  font-weight: 600;
  font-size: 13px;
}
:deep(.who) {
  min-width: 150px;
}
:deep(.duty) {
  text-align: center;
}
</style>
