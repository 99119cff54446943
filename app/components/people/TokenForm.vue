<script setup lang="ts">
import { TOKEN_GIVES, type TokenGives } from '#core/contract/permission'
import type { Units } from '~/units/useUnits'

/** A new token: for which program, of which part of the tree, what it may do, and until when. */
const { units } = defineProps<{ units: Units }>()
const emit = defineEmits<{ made: [token: { name: string; token: string }]; cancel: [] }>()
const { t } = useI18n()
const session = useSession()
const name = ref('')
const branch = ref<string | null>(session.view?.branch?.unit.code ?? null)
const gives = ref<TokenGives[]>(['extract'])
const lastDay = ref('')
/** Personal answers are given with cases only. */
const isOpen = (one: TokenGives) => one !== 'extractPersonal' || gives.value.includes('extract')
const { busy, problem, run } = useAct()
async function save() {
  const body = {
    ...{ name: name.value, branch: branch.value, lastDay: lastDay.value },
    gives: gives.value.filter(isOpen),
  }
  await run(async () => {
    const { token } = await callApi('POST /api/tokens', { body })
    emit('made', { name: body.name, token })
  })
}
</script>

<template>
  <form class="card stack" @submit.prevent="save">
    <h2>{{ t('token.new') }}</h2>
    <div class="fields">
      <div class="field wide">
        <label for="token-name">{{ t('token.program') }}</label><InputText
          id="token-name"
          v-model="name"
          required
          minlength="2"
          maxlength="100"
          aria-describedby="token-name-hint"
        /><small id="token-name-hint" class="quiet">{{ t('token.programHint') }}</small>
      </div>
      <div class="field wide">
        <label for="token-branch">{{ t('people.branch') }}</label><UnitPicker
          v-model="branch"
          input-id="token-branch"
          :units="units"
        /><small class="quiet">{{ t('people.branchHint') }}</small>
      </div>
      <div class="field">
        <label for="token-last">{{ t('token.lastDay') }}</label><DayField
          v-model="lastDay"
          input-id="token-last"
          required
        />
      </div>
    </div>
    <fieldset class="stack gives">
      <legend>{{ t('token.gives') }}</legend>
      <p class="small quiet">{{ t('token.always') }}</p>
      <label v-for="one in TOKEN_GIVES" :key="one"
        ><input v-model="gives" type="checkbox" :value="one" :disabled="!isOpen(one)" />
        {{ t(`token.give.${one}`) }}</label
      >
    </fieldset>
    <FormEnd :problem="problem" :label="t('token.make')" :busy="busy" @cancel="emit('cancel')" />
  </form>
</template>

<style scoped>
.gives {
  border: 0;
  margin: 0;
  padding: 0;
  gap: 6px;
}
.gives legend {
  font-weight: 600;
  padding: 0;
}
</style>
