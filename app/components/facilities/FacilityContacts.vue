<script setup lang="ts">
import type { FacilityContact } from '#core/contract/nudges'
import { parsePhone } from '#core/nudge/phone'

/** Whom to call at a facility; who reminds facilities adds and removes them. */
const { unit, contacts } = defineProps<{ unit: string; contacts: readonly FacilityContact[] }>()
const emit = defineEmits<{ changed: [] }>()
const words = useWords()
const { t, locale } = words
const session = useSession()
const { busy, problem, run } = useAct()
const adding = ref(false)
const blank = () => ({
  ...{ name: '', phone: '', nudges: true },
  language: locale.value === 'fr' ? ('fr' as const) : ('en' as const),
})
const draft = ref(blank())
const languages = (['en', 'fr'] as const).map(value => ({ value, label: t(`nudge.language.${value}`) }))
/** What is wrong with the number, once somebody typed one. */
const phoneProblem = computed(() => {
  const read = draft.value.phone ? parsePhone(draft.value.phone) : null
  return read && !read.ok ? words.problem(read.problems[0]!) : ''
})
const isGood = computed(
  () => draft.value.name.trim().length > 1 && draft.value.phone !== '' && !phoneProblem.value,
)
async function add() {
  const body = draft.value
  if (!(await run(() => callApi('POST /api/facilities/:unit/contacts', { params: { unit }, body })))) return
  adding.value = false
  draft.value = blank()
  emit('changed')
}
/** The one that was removed a moment ago, to put back. */
const removed = shallowRef<FacilityContact | null>(null)
async function remove(contact: FacilityContact) {
  const params = { unit, id: contact.id }
  if (!(await run(() => callApi('DELETE /api/facilities/:unit/contacts/:id', { params })))) return
  removed.value = contact
  emit('changed')
}
async function putBack() {
  const { id: _, ...body } = removed.value!
  if (!(await run(() => callApi('POST /api/facilities/:unit/contacts', { params: { unit }, body })))) return
  removed.value = null
  emit('changed')
}
</script>

<template>
  <section class="card stack" aria-labelledby="contacts">
    <div class="spread">
      <h2 id="contacts">{{ t('contacts.title') }}</h2>
      <Button
        v-if="session.can('nudge') && !adding"
        size="small"
        severity="secondary"
        outlined
        icon="pi pi-plus"
        :label="t('contacts.add')"
        @click="adding = true"
      />
    </div>
    <p v-if="!session.can('nudge')" class="quiet">{{ t('contacts.notShown') }}</p>
    <p v-else-if="!contacts.length && !adding" class="quiet">{{ t('contacts.none') }}</p>
    <ul class="plain-list">
      <li v-for="one in contacts" :key="one.id" class="spread">
        <span
          ><strong>{{ one.name }}</strong> · <a :href="`tel:${one.phone}`">{{ one.phone }}</a>{{ ' ' }}
          <span class="small quiet">
            {{ t(`nudge.language.${one.language}`) }}
            <template v-if="!one.nudges">· {{ t('contacts.callOnly') }}</template></span
          ></span
        ><Button
          size="small"
          severity="secondary"
          text
          :label="t('contacts.remove')"
          :aria-label="t('contacts.removeOne', { name: one.name })"
          @click="remove(one)"
        />
      </li>
    </ul>
    <Message v-if="removed" severity="info" closable @close="removed = null"
      >{{ t('contacts.removed', { name: removed.name }) }}
      <Button text size="small" icon="pi pi-undo" :label="t('act.undo')" @click="putBack"
    /></Message>
    <form v-if="adding" class="stack" @submit.prevent="add">
      <div class="fields">
        <div class="field">
          <label for="contact-name">{{ t('contacts.name') }}</label>
          <InputText id="contact-name" v-model="draft.name" :maxlength="100" autofocus />
        </div>
        <div class="field">
          <label for="contact-phone">{{ t('contacts.phone') }}</label>
          <InputText
            id="contact-phone"
            v-model="draft.phone"
            type="tel"
            :maxlength="40"
            :invalid="phoneProblem !== ''"
            aria-describedby="contact-phone-says"
          />
        </div>
        <PickOne
          v-model="draft.language"
          input-id="contact-language"
          :label="t('contacts.language')"
          :options="languages"
        />
      </div>
      <p id="contact-phone-says" :class="['small', phoneProblem ? 'wrong' : 'quiet']">
        {{ phoneProblem || t('contacts.phoneSay') }}
      </p>
      <label><Checkbox v-model="draft.nudges" binary /> {{ t('contacts.nudges') }}</label>
      <div class="row">
        <Button type="submit" :label="t('contacts.add')" :loading="busy" :disabled="!isGood" />
        <Button severity="secondary" text :label="t('act.cancel')" @click="adding = false" />
      </div>
    </form>
    <ProblemNote :problem="problem" />
  </section>
</template>

<style scoped>
.wrong {
  color: var(--brick-7);
}
li {
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
</style>
