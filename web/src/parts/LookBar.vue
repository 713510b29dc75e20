<script setup lang="ts">
import { saveAs } from "../api/client";
import { isWhole, looks as names, useLooks, type Look } from "../stores/looks";
import { useShot } from "../stores/shot";

const emit = defineEmits<{ full: [] }>();

const shot = useShot();
const looks = useLooks();
const stills: Look[] = ["one", "beside", "three", "difference", "clipped"];
const whole: Look[] = ["mean", "brightest", "darkest", "activity"];

function save(): void {
  if (!isWhole(looks.look)) return;
  const { first, last } = looks.stretch;
  const name = `${shot.shot!.name} ${looks.look} ${first + 1}-${last + 1}.png`;
  saveAs(name, looks.wholeAddress(looks.look, "png"));
}
</script>

<template>
  <div class="looks" role="toolbar" aria-label="How to look">
    <span class="group">
      <button
        v-for="name in stills"
        :key="name"
        type="button"
        class="plain-button"
        :aria-pressed="looks.look === name && !looks.spot"
        @click="looks.show(name)"
      >
        {{ names[name] }}
      </button>
      <button type="button" class="plain-button" :aria-pressed="looks.spot !== undefined" title="Z: at the pointer" @click="looks.toggleSpot()">
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
        :aria-pressed="looks.look === name"
        @click="looks.show(name)"
      >
        {{ name }}
      </button>
      <button v-if="isWhole(looks.look)" type="button" class="plain-button act" @click="save">save PNG</button>
    </span>
    <span class="group">
      <button type="button" class="plain-button" :aria-pressed="looks.blinking" title="B: against the last still kept" @click="looks.toggleBlink()">
        blink
      </button>
      <label class="quiet">
        <select v-model.number="looks.perSecond" aria-label="Blinks a second">
          <option v-for="speed in [1, 2, 3, 5, 8]" :key="speed" :value="speed">{{ speed }} a second</option>
        </select>
      </label>
      <button type="button" class="plain-button act" title="F; Esc leaves it" @click="emit('full')">full screen</button>
    </span>
  </div>
</template>

<style scoped src="./looks.css"></style>
