<script setup lang="ts">
/** The tree of organisation units beside the unit that is chosen; files in and out; the latest changes. */
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const session = useSession()
const list = useLoad(ownUnits)
const units = useUnits(() => list.data.value)
const chosen = computed(() => (route.query.unit ? String(route.query.unit) : null))
const file = useLoad(
  async () => (chosen.value ? callApi('GET /api/units/:unit', { params: { unit: chosen.value } }) : null),
  () => chosen.value,
)
const doing = ref<'import' | 'add' | null>(null)
const done = ref(false)
const changes = useTemplateRef<{ reload: () => Promise<void> }>('changes')
const out = useTemplateRef<{ toggle: (event: Event) => void }>('out')
const FORMATS = ['csv', 'geojson', 'fhir'] as const
const ways = computed(() =>
  FORMATS.map(format => ({ label: t(`units.format.${format}`), url: `/api/units/export?format=${format}` })),
)
const choose = (unit: string) => {
  done.value = false
  doing.value = null
  return router.push({ query: { unit } })
}

async function changed(applied = true) {
  doing.value = null
  done.value = applied
  await Promise.all([list.reload(), file.reload(), changes.value?.reload()])
}
</script>

<template>
  <div class="units">
    <section class="left" :aria-label="t('units.title')">
      <LoadState :load="list" :empty="list.data.value?.units.length === 0" :empty-text="t('units.empty')"
        ><UnitBrowser :units="units" :chosen="chosen" @choose="choose"
      /></LoadState>
    </section>
    <section class="right stack">
      <PageHead :title="t('units.title')">
        <DefineTabs />
        <template #acts>
          <Button
            severity="secondary"
            outlined
            icon="pi pi-download"
            :label="t('units.export')"
            aria-haspopup="true"
            @click="out?.toggle($event)"
          />
          <Menu ref="out" :model="ways" popup />
          <template v-if="session.can('manageUnits')">
            <Button
              severity="secondary"
              outlined
              icon="pi pi-upload"
              :label="t('units.import')"
              @click="doing = 'import'"
            />
            <Button icon="pi pi-plus" :label="t('units.add')" @click="doing = 'add'" />
          </template>
        </template>
      </PageHead>
      <Message v-if="done" severity="success" closable @close="done = false">{{
        t('units.applied')
      }}</Message>
      <template v-if="list.data.value">
        <UnitImport
          v-if="doing === 'import'"
          :today="list.data.value.day"
          @applied="changed()"
          @cancel="doing = null"
        />
        <UnitForm
          v-else-if="doing === 'add'"
          act="add"
          :units="units"
          :today="list.data.value.day"
          @applied="changed()"
          @cancel="doing = null"
        />
        <LoadState v-else-if="chosen" v-slot="{ data }" :load="file"
          ><UnitDetail
            v-if="data.unit.code === chosen"
            :file="data"
            :units="units"
            :today="list.data.value.day"
            @changed="changed()"
            @choose="choose"
        /></LoadState>
        <p v-else class="quiet">{{ t('units.choose') }}</p>
        <LevelsCard
          v-if="!doing && !chosen && session.can('manageUnits') && !session.view?.branch"
          :list="list.data.value"
          @saved="list.reload()"
        />
        <GroupsCard v-if="!doing && !chosen" :units="units" :today="list.data.value.day" />
        <UnitChanges v-if="session.can('manageUnits') && !doing" ref="changes" @changed="changed(false)" />
      </template>
    </section>
  </div>
</template>

<style scoped>
.units {
  display: grid;
  grid-template-columns: minmax(260px, 340px) minmax(0, 1fr);
  min-height: calc(100vh - 52px);
}
.left {
  position: sticky;
  top: 52px;
  height: calc(100vh - 52px);
  overflow-y: auto;
  padding-top: 16px;
  border-right: 1px solid var(--line);
  background: var(--card);
}
.right {
  padding: 18px 22px 40px;
  align-content: start;
}
@media (width < 900px) {
  .units {
    grid-template-columns: minmax(0, 1fr);
  }
  .left {
    position: static;
    height: auto;
    max-height: 320px;
  }
}
</style>
