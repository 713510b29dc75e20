<script setup lang="ts">
import { useShot } from "../../stores/shot";
import { useLight } from "./light";
import SettingField from "./SettingField.vue";

/** One part of the circle of hues in numbers. */
defineProps<{ place: number; width: number }>();
const emit = defineEmits<{ forget: [] }>();

const shot = useShot();
const light = useLight();
</script>

<template>
  <SettingField
    v-if="!light.grade.monochrome"
    :name="`hues.${place}.turn`"
    label="to another hue"
    :min="-60"
    :max="60"
    :step="1"
    :places="0"
    unit="°"
  />
  <SettingField
    v-if="!light.grade.monochrome"
    :name="`hues.${place}.colour`"
    label="more or less of it"
    :min="-1"
    :max="1"
    :step="0.05"
    :places="2"
  />
  <SettingField
    :name="`hues.${place}.lightness`"
    label="lighter or darker"
    :min="-1"
    :max="1"
    :step="0.05"
    :places="2"
  />
  <p class="acts">
    <label class="check quiet"
      >how many hues on either side
      <input
        type="range"
        min="10"
        max="180"
        step="5"
        :value="width"
        @input="light.attempt(`hues.${place}.width`, Number(($event.target as HTMLInputElement).value))"
        @change="shot.settle()"
    /></label>
    <button type="button" class="plain-button" @click="emit('forget')">forget this part</button>
  </p>
</template>

<style scoped>
input[type="range"] {
  accent-color: var(--line);
  width: 6rem;
}
</style>
