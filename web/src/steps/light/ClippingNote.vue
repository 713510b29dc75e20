<script setup lang="ts">
import type { Clipping } from "../../api/client";
import { useShot } from "../../stores/shot";
import { useLight } from "./light";

/** How much is black or white, here and in the still that has most of it. */
defineProps<{ clipping: Clipping }>();

const shot = useShot();
const light = useLight();

function share(value: number): string {
  return value && value < 0.0005 ? "under 0.1 %" : `${(value * 100).toFixed(1)} %`;
}
</script>

<template>
  <div class="clipped">
    <p class="words">
      Black: <span class="number">{{ share(clipping.dark) }}</span> here, most in
      <button type="button" class="plain-button" @click="shot.goTo(clipping.worst_dark.position)">
        still {{ (clipping.worst_dark.position + 1).toLocaleString("en") }}</button
      >:
      <span class="number">{{ share(clipping.worst_dark.share) }}</span>
    </p>
    <p class="words">
      White: <span class="number">{{ share(clipping.bright) }}</span> here, most in
      <button type="button" class="plain-button" @click="shot.goTo(clipping.worst_bright.position)">
        still {{ (clipping.worst_bright.position + 1).toLocaleString("en") }}</button
      >:
      <span class="number">{{ share(clipping.worst_bright.share) }}</span>
    </p>
    <label class="check">
      <input
        type="checkbox"
        :checked="light.overlayMask === 'clipped'"
        @change="light.overlayMask = light.overlayMask === 'clipped' ? undefined : 'clipped'"
      />
      stripes over what is black or white
    </label>
  </div>
</template>

<style scoped>
.clipped {
  display: grid;
  gap: 0.1rem;
}
</style>
