<script setup lang="ts">
import type { CaseLine } from '#core/contract/cases'
import type { CaseRegister } from '#core/cases/register'

/** The cases that belong to a case; each opens to those that belong to it. */
const { parent, registers, label } = defineProps<{
  parent: string
  registers: ReadonlyMap<string, CaseRegister>
  label: string
}>()
const words = useWords()
const { t } = words
const load = usePages(
  (after?: CaseLine) =>
    callApi('GET /api/cases', { query: { parent, sort: 'lastOn', order: 'ascending', after: after?.id } }),
  () => parent,
)
const { titleOfCase, restOf } = useCaseLines(code => registers.get(code))
const isParent = ({ register }: CaseLine) => [...registers.values()].some(one => one.parent === register)
const opened = reactive(new Set<string>())
const toggle = (id: string) => (opened.has(id) ? opened.delete(id) : opened.add(id))
</script>

<template>
  <LoadState
    v-slot="{ data }"
    :load="load"
    :empty="load.data.value?.lines.length === 0"
    :empty-text="t('caseFile.noContacts')"
  >
    <ul class="plain-list tree" :aria-label="label">
      <li v-for="one in data.lines" :key="one.id">
        <p>
          <button
            v-if="isParent(one)"
            type="button"
            class="textual"
            :aria-expanded="opened.has(one.id)"
            :aria-label="t('caseFile.contactsOf', { case: titleOfCase(one) })"
            @click="toggle(one.id)"
          >
            <i
              :class="opened.has(one.id) ? 'pi pi-chevron-down' : 'pi pi-chevron-right'"
              aria-hidden="true"
            />
          </button>
          <NuxtLink :to="`/cases/${one.id}`">{{ titleOfCase(one) }}</NuxtLink>
          <span class="small quiet rest">{{ words.plainDay(one.lastOn) }} · {{ restOf(one) }}</span>
          <WordTag v-if="one.nextVisit" tone="amber">{{
            t('caseFile.nextVisit', { day: words.plainDay(one.nextVisit) })
          }}</WordTag>
        </p>
        <CaseContacts
          v-if="opened.has(one.id)"
          :parent="one.id"
          :registers="registers"
          :label="t('caseFile.contactsOf', { case: titleOfCase(one) })"
        />
      </li>
    </ul>
    <ShowMore :more="data.more" @show="load.showMore()" />
  </LoadState>
</template>

<style scoped>
.rest {
  margin: 0 8px;
}
.tree .tree {
  padding-left: 22px;
}
p {
  margin: 0;
  padding: 3px 0;
}
</style>
