<script setup lang="ts">
/** The dark head of the facility's pages. */
const { title, back = null } = defineProps<{ title: string; back?: string | null }>()
const { t } = useI18n()
useHead({ title: () => `${title} · Eastward Lantern` })
</script>

<template>
  <header class="head">
    <NuxtLink v-if="back" :to="back" class="back" :aria-label="t('act.back')"
      ><i class="pi pi-arrow-left" aria-hidden="true"
    /></NuxtLink>
    <div class="words">
      <h1>{{ title }}</h1>
      <p class="below"><slot /></p>
    </div>
    <slot name="side" />
  </header>
</template>

<style scoped>
.head {
  background: #251b31;
  color: #fff;
  padding: 12px 16px;
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 66px;
}
.words {
  flex: 1;
  min-width: 0;
}
h1 {
  font: 700 18px/1.25 var(--body);
  color: #fff;
}
.below {
  color: #d9cfe3;
  font-size: 14px;
  min-height: 4px;
}
.back {
  width: 44px;
  height: 44px;
  margin-left: -12px;
  display: grid;
  place-items: center;
  color: #fff;
  text-decoration: none;
}
.back i {
  font-size: 18px;
}
.back:focus-visible {
  outline-color: #eaa234;
}
</style>
