<script setup lang="ts">
import { codeFromLabel } from '#core/form/code'
import type { UnitGroupLine } from '#core/contract/units'
import type { Units } from '~/units/useUnits'

/** Named groups of units, each a member from a day to a day: to report a dataset together. */
const { units, today } = defineProps<{ units: Units; today: string }>()
const words = useWords()
const { t, locale } = words
const session = useSession()
const load = useLoad(() => callApi('GET /api/unit-groups', {}))
const group = ref<UnitGroupLine | null>(null)
const unit = ref<string | null>(null)
const { busy, problem, run } = useAct()
const open = (one: UnitGroupLine) => {
  group.value = JSON.parse(JSON.stringify(one)) as UnitGroupLine
}
function begin(name: string) {
  group.value = {
    code: codeFromLabel(
      name,
      (load.data.value ?? []).map(({ code }) => code),
    ),
    name: { [locale.value]: name },
    members: [],
  }
}
watch(unit, code => {
  if (!code || !group.value) return
  if (!group.value.members.some(member => member.unit === code && member.to === null))
    group.value.members.push({ unit: code, from: `${today.slice(0, 7)}-01`, to: null })
  unit.value = null
})
async function save() {
  const { code, name, members } = group.value!
  if (
    await run(() =>
      callApi('PUT /api/unit-groups/:group', { params: { group: code }, body: { name, members } }),
    )
  ) {
    group.value = null
    await load.reload()
  }
}
const to = (member: UnitGroupLine['members'][number]) =>
  computed<string>({
    get: () => member.to ?? '',
    set: next => {
      member.to = next || null
    },
  })
</script>

<template>
  <section class="card stack">
    <h2>{{ t('groups.title') }}</h2>
    <LoadState v-slot="{ data }" :load="load">
      <p v-if="!data.length" class="quiet">{{ t('groups.none') }}</p>
      <ul v-else class="plain-list">
        <li v-for="one in data" :key="one.code">
          <button v-if="session.can('manageUnits')" type="button" class="textual" @click="open(one)">
            {{ words.say(one.name) }}</button><span v-else>{{ words.say(one.name) }}</span
          >{{ ' ' }}
          <span class="small quiet">{{
            t('groups.members', { count: one.members.length }, one.members.length)
          }}</span>
        </li>
      </ul>
    </LoadState>
    <template v-if="session.can('manageUnits')">
      <AddByName v-if="!group" :label="t('groups.new')" @add="begin" />
      <form v-else class="stack" @submit.prevent="save">
        <WordsField v-model="group.name" input-id="group-name" :label="t('draft.name')" :most="100" />
        <div v-for="(member, at) in group.members" :key="`${member.unit}-${at}`" class="row">
          <span class="member">{{ units.byCode.value.get(member.unit)?.name ?? member.unit }}</span>
          <DayField v-model="member.from" :label="t('groups.from', { name: member.unit })" required />
          <DayField v-model="to(member).value" :label="t('groups.to', { name: member.unit })" />
          <Button
            text
            size="small"
            severity="secondary"
            icon="pi pi-trash"
            :aria-label="t('draft.remove', { name: member.unit })"
            @click="group.members.splice(at, 1)"
          />
        </div>
        <div class="field">
          <label for="group-unit">{{ t('groups.add') }}</label><UnitPicker
            :key="group.members.length"
            v-model="unit"
            input-id="group-unit"
            :units="units"
          />
        </div>
        <ProblemNote :problem="problem" />
        <div class="row">
          <Button type="submit" size="small" :label="t('groups.save')" :loading="busy" /><Button
            size="small"
            text
            severity="secondary"
            :label="t('act.cancel')"
            @click="group = null"
          />
        </div>
      </form>
    </template>
  </section>
</template>

<style scoped>
.member {
  flex: 1;
  min-width: 140px;
}
</style>
