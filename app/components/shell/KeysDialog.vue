<script setup lang="ts">
import { keysShown } from '~/common/useKeys'

const visible = defineModel<boolean>('visible', { required: true })
const { t } = useI18n()
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    :header="t('keys.title')"
    :style="{ width: '420px' }"
    dismissable-mask
  >
    <dl class="keys">
      <div v-for="key in keysShown" :key="key.key + key.says">
        <dt>
          <kbd>{{ key.key }}</kbd>
        </dt>
        <dd>{{ t(key.says) }}</dd>
      </div>
    </dl>
  </Dialog>
</template>

<style scoped>
.keys {
  margin: 0;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.keys div {
  display: flex;
  gap: 12px;
  align-items: center;
}
.keys dt {
  min-width: 74px;
}
.keys dd {
  margin: 0;
}
</style>
