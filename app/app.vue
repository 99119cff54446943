<script setup lang="ts">
const session = useSession()
</script>

<template>
  <NuxtLayout>
    <NuxtPage />
  </NuxtLayout>
  <SignInAgain v-if="session.mustSignInAgain" />
  <UpdateNotice />
</template>
