<script setup lang="ts">
import type { NeedsYouGroup } from '~/device/useNeedsYou'

/**
 * Everything on this device that the district did not take. It stays until it is sent, corrected or removed.
 */
definePageMeta({ layout: 'desk' })
const words = useWords()
const { t } = words
const { load, sendAgain, remove } = useNeedsYou()
const desk = useDesk()
const removing = shallowRef<NeedsYouGroup | null>(null)
const { contentText } = useCellText()
const shown = ({ content, item }: NeedsYouGroup['lines'][number]) =>
  content ? contentText(item, content) : null
/** Each reason once, with how many it is about. */
const reasons = ({ lines }: NeedsYouGroup) => [
  ...new Set(
    lines.map(({ why, said }) =>
      [words.problem({ code: why, message: why }), said && `“${said}”`].filter(Boolean).join(' '),
    ),
  ),
]

async function removeNow() {
  await remove(removing.value!)
  removing.value = null
}
</script>

<template>
  <div>
    <DeskHead :title="t('needsYou.title')" back="/desk">{{
      t('needsYou.count', { count: desk.needsYou.value }, desk.needsYou.value)
    }}</DeskHead>
    <main class="list">
      <p class="quiet">{{ t('needsYou.hint') }}</p>
      <LoadState
        v-slot="{ data }"
        :load="load"
        :empty="!load.data.value?.length"
        :empty-text="t('needsYou.none')"
      >
        <section v-for="group in data" :key="group.key" class="card stack" :aria-label="group.title">
          <h2>{{ group.title }}</h2>
          <p v-if="group.unit" class="quiet small">{{ group.unit.name }}</p>
          <p v-for="reason in reasons(group)" :key="reason" class="why">{{ reason }}</p>
          <p v-if="group.isClosed" class="small">{{ t('needsYou.goesByItself') }}</p>
          <details>
            <summary>{{ t('needsYou.lines', { count: group.lines.length }, group.lines.length) }}</summary>
            <ul class="plain-list">
              <li v-for="line in group.lines" :key="line.id">
                {{ line.name }}<strong v-if="shown(line)">: {{ shown(line) }}</strong>
              </li>
            </ul>
          </details>
          <div class="row">
            <NuxtLink v-if="group.to" :to="group.to" class="open">{{ t('act.open') }}</NuxtLink>
            <Button
              severity="secondary"
              outlined
              icon="pi pi-refresh"
              :label="t('needsYou.again')"
              :loading="desk.state.value === 'busy'"
              @click="sendAgain(group)"
            />
            <Button
              severity="secondary"
              text
              icon="pi pi-trash"
              :label="t('needsYou.remove')"
              @click="removing = group"
            />
          </div>
        </section>
      </LoadState>
    </main>
    <AskDialog
      :visible="removing !== null"
      :title="t('needsYou.remove')"
      :act="t('needsYou.remove')"
      @update:visible="removing = null"
      @go="removeNow"
    >
      <p>{{ t('needsYou.removeAsk', { title: removing?.title ?? '' }) }}</p>
    </AskDialog>
  </div>
</template>

<style scoped>
.list {
  max-width: 720px;
  margin: 0 auto;
  padding: 14px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.why {
  color: var(--brick-7);
}
.open {
  min-height: 44px;
  display: inline-flex;
  align-items: center;
  font-weight: 600;
}
summary {
  min-height: 32px;
  cursor: pointer;
}
.list :deep(button) {
  min-height: 44px;
}
</style>
