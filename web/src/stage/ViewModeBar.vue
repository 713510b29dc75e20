<script setup lang="ts">
import { saveAs } from "../api/client";
import { isStack, viewModes as names, useViewModes, type ViewMode } from "./viewModes";
import { useShot } from "../stores/shot";

const emit = defineEmits<{ full: [] }>();

const shot = useShot();
const modes = useViewModes();
const stills: ViewMode[] = ["one", "all", "beside", "three", "difference", "clipped"];
const whole: ViewMode[] = ["mean", "brightest", "darkest", "activity"];

function save(): void {
  if (!isStack(modes.mode)) return;
  const { first, last } = modes.stretch;
  const name = `${shot.shot!.name} ${modes.mode} ${first + 1}-${last + 1}.png`;
  saveAs(name, modes.stackAddress(modes.mode, "png"));
}
</script>

<template>
  <div class="view-modes" role="toolbar" aria-label="How to look">
    <span class="group">
      <button
        v-for="name in stills"
        :key="name"
        type="button"
        class="plain-button"
        :aria-pressed="modes.mode === name && !modes.spot"
        @click="modes.show(name)"
      >
        {{ names[name] }}
      </button>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="modes.spot !== undefined"
        title="Z: at the pointer"
        @click="modes.toggleSpot()"
      >
        real pixels
      </button>
    </span>
    <span class="group">
      <span class="quiet">{{ shot.stretch ? "the stretch:" : "whole shot:" }}</span>
      <button
        v-for="name in whole"
        :key="name"
        type="button"
        class="plain-button"
        :aria-label="names[name]"
        :aria-pressed="modes.mode === name"
        @click="modes.show(name)"
      >
        {{ name }}
      </button>
      <button v-if="isStack(modes.mode)" type="button" class="plain-button act" @click="save">save PNG</button>
    </span>
    <span class="group">
      <button
        type="button"
        class="plain-button"
        :aria-pressed="modes.blinking"
        title="B: against the last still kept"
        @click="modes.toggleBlink()"
      >
        blink
      </button>
      <label class="quiet">
        <select v-model.number="modes.perSecond" aria-label="Blinks a second">
          <option v-for="speed in [1, 2, 3, 5, 8]" :key="speed" :value="speed">{{ speed }} a second</option>
        </select>
      </label>
      <button type="button" class="plain-button act" title="F; Esc leaves it" @click="emit('full')">full screen</button>
    </span>
  </div>
</template>

<style scoped src="./bar.css"></style>
