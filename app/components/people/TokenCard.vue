<script setup lang="ts">
/** A token, shown this once: only its hash is kept. */
const { made } = defineProps<{ made: { name: string; token: string } }>()
const emit = defineEmits<{ close: [] }>()
const { t } = useI18n()
const copied = ref(false)
async function copy() {
  await navigator.clipboard.writeText(made.token)
  copied.value = true
}
</script>

<template>
  <section class="card stack made" role="status">
    <h2>{{ t('token.for', { name: made.name }) }}</h2>
    <p>
      <code class="token">{{ made.token }}</code>
    </p>
    <p>{{ t('token.once') }}</p>
    <div class="row">
      <Button
        size="small"
        severity="secondary"
        outlined
        icon="pi pi-copy"
        :label="t(copied ? 'token.copied' : 'token.copy')"
        @click="copy"
      /><Button size="small" severity="secondary" text :label="t('token.seen')" @click="emit('close')" />
    </div>
  </section>
</template>

<style scoped>
.made {
  border-left: 4px solid var(--amber-5);
}
.token {
  overflow-wrap: anywhere;
  user-select: all;
}
</style>
