<script setup lang="ts">
import InputText from "primevue/inputtext";
import { computed } from "vue";

import NumberField from "../../parts/NumberField.vue";
import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import { tools, useAreas, type Kind } from "./areas";
import { useLight } from "./light";

/** The area that is worked on: its name, what it is made of, and what of that it is confined to. */
const shot = useShot();
const light = useLight();
const areas = useAreas();
const frames = useFrames();
const mask = computed(() => areas.mask!);
const words: Record<Kind, string> = {
  gradient: "a gradient",
  ellipse: "an ellipse",
  brush: "what was painted",
  everything: "the whole picture",
};

function rename(event: Event): void {
  const name = (event.target as HTMLInputElement).value.trim();
  if (name && name !== light.worked?.name) void light.set(`areas.${light.area}.name`, name, "");
}

function withoutPart(place: number): void {
  void areas.setMask({ parts: areas.mask!.parts.filter((_, index) => index !== place) });
}

function adjust(section: "brightness" | "colour" | "surface"): void {
  light.section = section;
}
</script>

<template>
  <section>
    <h2>{{ light.worked?.name }}</h2>
    <label class="named"
      ><span>its name</span
      ><InputText :model-value="light.worked?.name" maxlength="60" fluid @change="rename" @keydown.enter="rename"
    /></label>
    <p class="acts">
      <span class="quiet">change its</span>
      <button
        v-for="one in ['brightness', 'colour', 'surface'] as const"
        :key="one"
        type="button"
        class="plain-button act"
        @click="adjust(one)"
      >
        {{ one }}
      </button>
    </p>
    <ul class="list" aria-label="What it is made of">
      <li v-for="(part, place) in mask.parts" :key="place">
        <span
          >{{ part.takes_away ? "without" : place ? "and" : "" }} {{ words[part.shape.kind]
          }}<template v-if="part.shape.kind === 'brush'"
            >, {{ part.shape.strokes.length }} {{ part.shape.strokes.length === 1 ? "stroke" : "strokes" }}</template
          ></span
        >
        <button
          v-if="mask.parts.length > 1"
          type="button"
          class="plain-button"
          :aria-label="`remove ${words[part.shape.kind]}`"
          @click="withoutPart(place)"
        >
          remove
        </button>
      </li>
    </ul>
    <p v-for="away in [false, true]" :key="String(away)" class="acts">
      <span class="quiet">{{ away ? "take away" : "add" }}</span>
      <button
        v-for="one in tools"
        :key="one.kind"
        type="button"
        class="plain-button"
        :aria-pressed="areas.isLaying(one.kind, false, away)"
        @click="areas.lay(one.kind, false, away)"
      >
        {{ one.words }}
      </button>
    </p>
    <div v-if="frames.drawing === 'area' && areas.laying?.kind === 'brush'" class="brush">
      <NumberField
        label="width of the brush, % of the picture"
        :value="Math.round(areas.brush.width * 1000) / 10"
        :min="0.5"
        :max="50"
        :step="1"
        :places="1"
        @change="areas.brush.width = $event / 100"
      />
      <NumberField
        label="soft edge, %"
        :value="Math.round(areas.brush.softness * 100)"
        :min="0"
        :max="100"
        :step="10"
        @change="areas.brush.softness = $event / 100"
      />
      <label class="check"><input v-model="areas.brush.erases" type="checkbox" /> wipe away what was painted</label>
    </div>
    <label class="check"
      ><input type="checkbox" :checked="mask.inverted" @change="areas.setMask({ inverted: !mask.inverted })" />
      everything but this</label
    >
    <NumberField
      label="only what is brighter than, %"
      :value="Math.round(mask.darkest * 100)"
      :min="0"
      :max="100"
      @change="areas.setMask({ darkest: $event / 100 })"
    />
    <NumberField
      label="only what is darker than, %"
      :value="Math.round(mask.brightest * 100)"
      :min="0"
      :max="100"
      @change="areas.setMask({ brightest: $event / 100 })"
    />
    <p class="acts">
      <button
        type="button"
        class="plain-button act"
        :aria-pressed="frames.drawing === 'hue'"
        @click="frames.drawing = frames.drawing === 'hue' ? undefined : 'hue'"
      >
        only one colour …
      </button>
      <template v-if="mask.hue">
        <span class="number">{{ Math.round(mask.hue.hue) }}°</span>
        <label class="check quiet"
          >±
          <input
            type="range"
            min="5"
            max="120"
            step="5"
            aria-label="How many hues on either side"
            :value="mask.hue.width"
            @change="
              areas.setMask({
                hue: { hue: mask.hue!.hue, width: Number(($event.target as HTMLInputElement).value) },
              })
            "
        /></label>
        <button type="button" class="plain-button" @click="areas.setMask({ hue: null })">all colours</button>
      </template>
    </p>
    <label class="check"
      ><input
        type="checkbox"
        :checked="light.overlayMask === 'area'"
        @change="light.overlayMask = light.overlayMask === 'area' ? undefined : 'area'"
      />
      a red mask over it</label
    >
    <p v-if="shot.refusal" class="warning" role="alert">{{ shot.refusal }}</p>
  </section>
</template>

<style scoped>
.list li > span {
  flex: 1;
}

.named {
  align-items: center;
  display: grid;
  gap: 0.5rem;
  grid-template-columns: auto minmax(0, 1fr);
}

.brush {
  background: var(--shade);
  display: grid;
  gap: 0.3rem;
  padding: 0.5rem;
}

input[type="range"] {
  accent-color: var(--line);
  width: 5rem;
}
</style>
