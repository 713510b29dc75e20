<script setup lang="ts">
import InputText from "primevue/inputtext";
import { computed, watch } from "vue";

import NumberField from "../../parts/NumberField.vue";
import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import { useAreas, type Kind } from "./areas";
import { useLight } from "./light";

const shot = useShot();
const light = useLight();
const areas = useAreas();
const frames = useFrames();
const words: Record<Kind, string> = {
  gradient: "a gradient",
  ellipse: "an ellipse",
  brush: "what was painted",
  everything: "the whole picture",
};
const tools = [
  { kind: "gradient", words: "a gradient" },
  { kind: "ellipse", words: "an ellipse" },
  { kind: "brush", words: "a brush" },
] as const;
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

function rename(event: Event): void {
  const name = (event.target as HTMLInputElement).value.trim();
  if (name && name !== light.worked?.name) void light.set(`areas.${light.area}.name`, name, "");
}

function withoutPart(place: number): void {
  void areas.setMask({ parts: areas.mask!.parts.filter((_, index) => index !== place) });
}

function isLaying(kind: Kind, isNew: boolean, takesAway: boolean): boolean {
  const { laying } = areas;
  return frames.drawing === "area" && laying?.kind === kind && laying.isNew === isNew && laying.takesAway === takesAway;
}

function adjust(section: "brightness" | "colour" | "surface"): void {
  light.section = section;
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
        :aria-pressed="isLaying(one.kind, true, false)"
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
          :aria-label="`${one.name} works earlier`"
          title="works earlier"
          @click="areas.move(place, -1)"
        >
          ↑
        </button>
        <button
          v-if="place < light.light.areas.length - 1"
          type="button"
          class="plain-button"
          :aria-label="`${one.name} works later`"
          title="works later"
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
  <section v-if="light.worked && areas.mask">
    <h2>{{ light.worked.name }}</h2>
    <label class="named"
      ><span>its name</span
      ><InputText :model-value="light.worked.name" maxlength="60" fluid @change="rename" @keydown.enter="rename"
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
      <li v-for="(part, place) in areas.mask.parts" :key="place">
        <span
          >{{ part.takes_away ? "without" : place ? "and" : "" }} {{ words[part.shape.kind]
          }}<template v-if="part.shape.kind === 'brush'"
            >, {{ part.shape.strokes.length }} {{ part.shape.strokes.length === 1 ? "stroke" : "strokes" }}</template
          ></span
        >
        <button
          v-if="areas.mask.parts.length > 1"
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
        :aria-pressed="isLaying(one.kind, false, away)"
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
      ><input
        type="checkbox"
        :checked="areas.mask.inverted"
        @change="areas.setMask({ inverted: !areas.mask.inverted })"
      />
      everything but this</label
    >
    <NumberField
      label="only what is brighter than, %"
      :value="Math.round(areas.mask.darkest * 100)"
      :min="0"
      :max="100"
      @change="areas.setMask({ darkest: $event / 100 })"
    />
    <NumberField
      label="only what is darker than, %"
      :value="Math.round(areas.mask.brightest * 100)"
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
      <template v-if="areas.mask.hue">
        <span class="number">{{ Math.round(areas.mask.hue.hue) }}°</span>
        <label class="check quiet"
          >±
          <input
            type="range"
            min="5"
            max="120"
            step="5"
            aria-label="How many hues on either side"
            :value="areas.mask.hue.width"
            @change="
              areas.setMask({
                hue: { hue: areas.mask!.hue!.hue, width: Number(($event.target as HTMLInputElement).value) },
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
.saffron {
  background: var(--saffron-pale);
  padding: 0.2rem 0.5rem;
}

.list {
  display: grid;
  gap: 0.1rem;
  list-style: none;
  margin: 0;
  padding: 0;
}

.list li {
  align-items: center;
  display: flex;
  gap: 0.4rem;
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
