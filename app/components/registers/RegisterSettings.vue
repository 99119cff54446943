<script setup lang="ts">
import type { CaseRegister } from '#core/cases/register'
import type { RegisterLine } from '#core/contract/registers'
import type { RegisterWork } from '~/define/useRegisterDraft'

/**
 * The register as a whole: what a case is about, its forms, the line in the list, who it is, and the day by
 * which it counts.
 */
const { work, others } = defineProps<{ work: RegisterWork; others: readonly RegisterLine[] }>()
const words = useWords()
const { t } = words
const register = computed(() => work.draft.value!)
const SUBJECTS = ['person', 'household', 'specimen', 'unit'] as const
const ROLES = ['registration', 'followUp', 'result'] as const
const WHO = ['name', 'birthDate', 'ageYears', 'sex', 'place'] as const
const asked = computed(() =>
  [...work.questions.value.values()].map(({ part }) => ({
    value: part.code,
    label: words.say(part.label) || part.code,
    kind: part.kind,
  })),
)
/** What no form asks any more says so where it is still named, instead of standing there without a name. */
const withGone = <T extends { value: string; label: string }>(
  list: readonly T[],
  ...codes: (string | undefined)[]
) => [
  ...list,
  ...codes
    .filter(code => code && !list.some(({ value }) => value === code))
    .map(code => ({ value: code!, label: t('register.gone', { code: code! }) })),
]
const orNone = (list: readonly { value: string; label: string }[]) => [
  { value: null as string | null, label: t('register.nothing') },
  ...list,
]
const days = (form?: string) =>
  asked.value.filter(
    ({ value, kind }) =>
      ['date', 'partialDate', 'computed'].includes(kind) &&
      (!form || work.questions.value.get(value)?.form === form),
  )
const parent = computed<string | null>({
  get: () => register.value.parent ?? null,
  set: next => {
    if (next) register.value.parent = next
    else delete register.value.parent
  },
})
function identify(key: (typeof WHO)[number], next: string | null) {
  if (next) register.value.identity[key] = next
  else delete register.value.identity[key]
}
function follow(change: Partial<NonNullable<CaseRegister['follow']>>) {
  // What is taken out leaves no key behind: a draft says nothing twice.
  register.value.follow = JSON.parse(
    JSON.stringify({ ...register.value.follow, ...change }),
  ) as CaseRegister['follow']
}
/** How long personal answers are usually kept, in years. */
const YEARS = [1, 2, 3, 5, 10]
const keepingYears = computed(() => [
  { value: null as number | null, label: t('register.keeping.always') },
  ...[...new Set([...YEARS, ...(register.value.keeping ? [register.value.keeping.years] : [])])]
    .sort((one, other) => one - other)
    .map(value => ({
      value: value as number | null,
      label: t('register.keeping.count', { count: value }, value),
    })),
])
/** At first what tells who somebody is: the name and the identifiers. */
function keep(years: number | null, personal?: readonly string[]) {
  const { name, identifiers } = register.value.identity
  if (years === null) delete register.value.keeping
  else
    register.value.keeping = { years, personal: [...(personal ?? [...(name ? [name] : []), ...identifiers])] }
}
</script>

<template>
  <div class="stack">
    <section class="card stack">
      <h2>{{ t('register.title') }}</h2>
      <WordsField v-model="register.name" input-id="register-name" :label="t('draft.title')" :most="200" />
      <div class="fields">
        <PickOne
          v-model="register.subject"
          input-id="register-subject"
          :label="t('register.subject')"
          :options="SUBJECTS.map(one => ({ value: one, label: t(`register.about.${one}`) }))"
        />
        <PickOne
          v-model="parent"
          input-id="register-parent"
          :label="t('register.parent')"
          :options="orNone(others.map(one => ({ value: one.register, label: words.say(one.name) })))"
        />
        <PickOne
          :model-value="register.countingDate || null"
          input-id="register-counting"
          :label="t('register.counting')"
          :options="orNone(withGone(days(), register.countingDate))"
          @update:model-value="register.countingDate = $event ?? ''"
        />
      </div>
      <PickMany
        v-model="register.line"
        input-id="register-line"
        :label="t('register.line')"
        :options="withGone(asked, ...register.line)"
      />
    </section>
    <section class="card stack">
      <h2>{{ t('register.who') }}</h2>
      <div class="fields">
        <PickOne
          v-for="key in WHO"
          :key="key"
          :model-value="register.identity[key] ?? null"
          :input-id="`identity-${key}`"
          :label="t(`register.identity.${key}`)"
          :options="orNone(withGone(asked, register.identity[key]))"
          @update:model-value="identify(key, $event)"
        />
      </div>
      <PickMany
        v-model="register.identity.identifiers"
        input-id="identity-identifiers"
        :label="t('register.identity.identifiers')"
        :options="withGone(asked, ...register.identity.identifiers)"
      />
    </section>
    <section class="card stack">
      <h2>{{ t('register.follow') }}</h2>
      <div class="fields">
        <PickOne
          :model-value="register.follow?.nextVisit ?? null"
          input-id="follow-next"
          :label="t('register.nextVisit')"
          :options="orNone(withGone(days(), register.follow?.nextVisit))"
          @update:model-value="follow({ nextVisit: $event ?? undefined })"
        />
        <PickOne
          :model-value="register.follow?.result ?? null"
          input-id="follow-result"
          :label="t('register.result')"
          :options="orNone(withGone(asked, register.follow?.result))"
          @update:model-value="follow({ result: $event ?? undefined })"
        />
      </div>
      <PickMany
        :model-value="[...(register.follow?.household ?? [])]"
        input-id="follow-household"
        :label="t('register.household')"
        :options="withGone(asked, ...(register.follow?.household ?? []))"
        @update:model-value="follow({ household: $event.length ? $event : undefined })"
      />
    </section>
    <section class="card stack">
      <h2>{{ t('register.keeping.title') }}</h2>
      <p class="small quiet">{{ t('register.keeping.note') }}</p>
      <PickOne
        :model-value="register.keeping?.years ?? null"
        input-id="keeping-years"
        :label="t('register.keeping.years')"
        :options="keepingYears"
        @update:model-value="keep($event, register.keeping?.personal)"
      />
      <PickMany
        v-if="register.keeping"
        :model-value="[...register.keeping.personal]"
        input-id="keeping-personal"
        :label="t('register.keeping.personal')"
        :options="withGone(asked, ...register.keeping.personal)"
        @update:model-value="keep(register.keeping.years, $event)"
      />
    </section>
    <section class="card stack">
      <h2>{{ t('register.forms') }}</h2>
      <fieldset v-for="one in register.forms" :key="one.form.code" class="plain">
        <legend>{{ words.say(one.form.name) }}</legend>
        <WordsField v-model="one.form.name" :input-id="`form-${one.form.code}`" :label="t('draft.title')" />
        <div class="fields">
          <PickOne
            v-model="one.role"
            :input-id="`role-${one.form.code}`"
            :label="t('register.role')"
            :options="ROLES.map(role => ({ value: role, label: t(`register.is.${role}`) }))"
          />
          <PickOne
            :model-value="one.eventDate || null"
            :input-id="`event-${one.form.code}`"
            :label="t('register.eventDate')"
            :options="orNone(withGone(days(one.form.code), one.eventDate))"
            @update:model-value="one.eventDate = $event ?? ''"
          />
          <label class="many"><input v-model="one.many" type="checkbox" /> {{ t('register.many') }}</label>
        </div>
      </fieldset>
      <p class="small quiet">{{ t('register.dates') }}</p>
    </section>
  </div>
</template>

<style scoped>
.many {
  align-self: flex-end;
  padding-bottom: 8px;
}
fieldset {
  padding-bottom: 12px;
  border-bottom: 1px solid var(--line);
}
</style>
