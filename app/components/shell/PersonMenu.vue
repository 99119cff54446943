<script setup lang="ts">
import { LANGUAGES } from '#core/languages'

const { t, locale } = useI18n()
const session = useSession()
const router = useRouter()
const menu = useTemplateRef('menu')
const person = computed(() => session.view?.person)
const initials = computed(
  () =>
    person.value?.displayName
      .split(' ')
      .map(part => part[0])
      .slice(0, 2)
      .join('') ?? '',
)

async function leave(everywhere: boolean) {
  await session.signOut(everywhere)
  await router.push('/sign-in')
}

const items = computed(() => [
  {
    label: `${person.value?.displayName} · ${t(`role.${person.value?.role}`)}`,
    items: [
      ...LANGUAGES.filter(language => language !== locale.value).map(language => ({
        label: t('shell.language', {}, { locale: language }),
        icon: 'pi pi-globe',
        command: () => {
          locale.value = language
        },
      })),
      { label: t('act.signOut'), icon: 'pi pi-sign-out', command: () => void leave(false) },
      { label: t('act.signOutEverywhere'), icon: 'pi pi-power-off', command: () => void leave(true) },
    ],
  },
])
</script>

<template>
  <button
    class="person"
    type="button"
    aria-haspopup="true"
    :aria-label="t('shell.person', { initials, name: person?.displayName ?? '' })"
    @click="menu?.toggle($event)"
  >
    {{ initials }}
  </button>
  <Menu ref="menu" :model="items" popup />
</template>

<style scoped>
.person {
  width: 32px;
  height: 32px;
  border-radius: 50%;
  border: 0;
  background: var(--plum-1);
  color: var(--plum-7);
  font: 700 13px var(--body);
  cursor: pointer;
}
</style>
