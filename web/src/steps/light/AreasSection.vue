<script setup lang="ts">
import { computed, watch } from "vue";

import { useFrames } from "../../stage/frames";
import AreaDetail from "./AreaDetail.vue";
import { tools, useAreas } from "./areas";
import { useLight } from "./light";

const light = useLight();
const areas = useAreas();
const frames = useFrames();
const isFull = computed(() => light.light.areas.length >= 12);
const hint = computed(() => {
  if (frames.drawing === "hue") return "Click on the colour in the picture.";
  if (frames.drawing !== "area" || !areas.laying) return "";
  return {
    gradient: "Drag in the picture: from where all of it works to where it ends.",
    ellipse: "Drag in the picture: from the middle outwards.",
    brush: areas.brush.erases
      ? "Wipe away what was painted."
      : areas.laying.takesAway
        ? "Paint in the picture over what does not belong to it."
        : "Paint in the picture over what belongs to it.",
  }[areas.laying.kind];
});

watch(
  () => light.area,
  (area) => (light.overlayMask = area === undefined ? undefined : "area"),
  { immediate: true },
);

function open(place: number): void {
  light.area = light.area === place ? undefined : place;
  if (frames.drawing === "area" || frames.drawing === "hue") frames.drawing = undefined;
}
</script>

<template>
  <section>
    <h2>Areas</h2>
    <p class="quiet words">
      A part of the picture with a light of its own. It lies in the still, so it stays on what it covers when the
      picture is fitted anew or moved.
    </p>
    <p class="acts">
      <span class="quiet">lay</span>
      <button
        v-for="one in tools"
        :key="one.kind"
        type="button"
        class="plain-button act"
        :aria-pressed="areas.isLaying(one.kind, true, false)"
        :disabled="isFull"
        @click="areas.lay(one.kind, true)"
      >
        {{ one.words }}
      </button>
      <button type="button" class="plain-button act" :disabled="isFull" @click="areas.addByColour()">
        by colour or brightness
      </button>
    </p>
    <p v-if="hint" class="words saffron" role="status">{{ hint }}</p>
    <ul v-if="light.light.areas.length" class="list" aria-label="Areas, in the order they work">
      <li v-for="(one, place) in light.light.areas" :key="place" :class="{ worked: light.area === place }">
        <input
          type="checkbox"
          :checked="one.is_on"
          :aria-label="`${one.name} works`"
          @change="light.set(`areas.${place}.is_on`, !one.is_on, '')"
        />
        <button type="button" class="plain-button name" :aria-expanded="light.area === place" @click="open(place)">
          {{ one.name }}
        </button>
        <button
          v-if="place > 0"
          type="button"
          class="plain-button"
          :aria-label="`${one.name} applied before the one above`"
          title="applied before the one above"
          @click="areas.move(place, -1)"
        >
          ↑
        </button>
        <button
          v-if="place < light.light.areas.length - 1"
          type="button"
          class="plain-button"
          :aria-label="`${one.name} applied after the one below`"
          title="applied after the one below"
          @click="areas.move(place, 1)"
        >
          ↓
        </button>
        <button type="button" class="plain-button" :aria-label="`remove ${one.name}`" @click="areas.remove(place)">
          remove
        </button>
      </li>
    </ul>
  </section>
  <AreaDetail v-if="light.worked && areas.mask" />
</template>

<style scoped>
.saffron {
  background: var(--saffron-pale);
  padding: 0.2rem 0.5rem;
}

.list li.worked {
  box-shadow: inset 2px 0 var(--line);
  padding-left: 0.4rem;
}

.list .name {
  flex: 1;
  min-width: 0;
  overflow-wrap: anywhere;
  text-align: left;
}
</style>
