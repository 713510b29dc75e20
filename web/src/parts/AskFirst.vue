<script setup lang="ts">
import Button from "primevue/button";
import Dialog from "primevue/dialog";

const asked = defineModel<boolean>({ required: true });
defineProps<{ question: string; yes: string }>();
const emit = defineEmits<{ yes: [] }>();

function confirm(): void {
  asked.value = false;
  emit("yes");
}
</script>

<template>
  <Dialog v-model:visible="asked" modal :header="question" :style="{ width: '30rem' }">
    <slot></slot>
    <template #footer>
      <Button label="Keep it" severity="secondary" autofocus @click="asked = false" />
      <Button :label="yes" class="main-action" @click="confirm" />
    </template>
  </Dialog>
</template>
