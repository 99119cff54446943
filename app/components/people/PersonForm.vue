<script setup lang="ts">
import type { PersonLine, Sharing } from '#core/contract/people'
import { grantsOf, maySeePart, maySeeSomeCases, ROLES, type Role } from '#core/contract/permission'
import type { Units } from '~/units/useUnits'

/** A new person, or the changes of one: name, role, part of the tree, only their own. */
const { person, units } = defineProps<{ person: PersonLine | null; units: Units }>()
const emit = defineEmits<{
  done: [made: { userName: string; code: string; until: string } | null]
  cancel: []
}>()
const { t } = useI18n()
const session = useSession()
const userName = ref(person?.userName ?? '')
const displayName = ref(person?.displayName ?? '')
const role = ref<Role>(person?.role ?? 'clerk')
const branch = ref<string | null>(
  person ? (person.branch?.code ?? null) : (session.view?.branch?.unit.code ?? null),
)
const ownOnly = ref(person?.ownOnly ?? false)
const sharing = ref(person?.sharing ?? null)
const active = ref(person?.active ?? true)
const self = computed(() => person?.id === session.view?.person.id)
const { busy, problem, run } = useAct()
/** What of a choice holds for a role: of a clerk no conditions. */
function sharingFor(role: Role, chosen: Sharing | null): Sharing | null {
  if (!chosen || !maySeePart(role)) return null
  if (maySeeSomeCases(role) || !chosen.registers) return chosen
  return { ...chosen, registers: chosen.registers.map(({ register }) => ({ register, where: '' })) }
}
async function save() {
  const rest = {
    displayName: displayName.value,
    role: role.value,
    branch: branch.value,
    ownOnly: role.value === 'clerk' && ownOnly.value,
    // What was taken away from one role may be none of another's.
    without: (person?.without ?? []).filter(one => grantsOf(role.value).includes(one)),
    sharing: sharingFor(role.value, sharing.value),
  }
  await run(async () => {
    if (person) {
      await callApi('PUT /api/people/:id', {
        params: { id: person.id },
        body: { ...rest, active: active.value },
      })
      emit('done', null)
    } else emit('done', await callApi('POST /api/people', { body: { userName: userName.value, ...rest } }))
  })
}
</script>

<template>
  <form class="card stack" @submit.prevent="save">
    <h2>{{ person ? person.displayName : t('people.new') }}</h2>
    <div class="fields">
      <div class="field wide">
        <label for="person-name">{{ t('people.name') }}</label><InputText
          id="person-name"
          v-model="displayName"
          required
          minlength="2"
          maxlength="100"
        />
      </div>
      <div class="field wide">
        <label for="person-user">{{ t('signIn.userName') }}</label><InputText
          id="person-user"
          v-model="userName"
          :disabled="Boolean(person)"
          required
          minlength="3"
          maxlength="100"
          pattern="\S+"
          autocapitalize="none"
        />
      </div>
    </div>
    <div class="fields">
      <PickOne
        v-model="role"
        input-id="person-role"
        :label="t('people.role')"
        :options="ROLES.map(one => ({ value: one, label: t(`role.${one}`) }))"
        :disabled="self"
      />
      <div class="field wide">
        <label for="person-branch">{{ t('people.branch') }}</label><UnitPicker
          v-model="branch"
          input-id="person-branch"
          :units="units"
        /><small v-if="role !== 'clerk'" class="quiet">{{ t('people.branchHint') }}</small>
      </div>
    </div>
    <label v-if="role === 'clerk'"
      ><input v-model="ownOnly" type="checkbox" /> {{ t('people.ownOnly') }}</label
    >
    <SharingFields v-if="maySeePart(role)" v-model="sharing" :has-conditions="maySeeSomeCases(role)" />
    <label v-if="person && !self"><input v-model="active" type="checkbox" /> {{ t('people.active') }}</label>
    <FormEnd
      :problem="problem"
      :label="person ? t('people.save') : t('people.make')"
      :busy="busy"
      @cancel="emit('cancel')"
    />
  </form>
</template>
