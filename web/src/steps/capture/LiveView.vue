<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from "vue";

import { api, Problem } from "../../api/client";
import { nudged, placeIn } from "../../parts/drag";
import { frameIn, frameShapes, outsideOf } from "../../parts/frameShapes";

/**
 * What the camera sees, again and again: with the frame of the clip, thirds, a level, and a spot whose sharpness is
 * said.
 */
const props = defineProps<{ camera: string; shape: [number, number]; calm: boolean }>();

const source = ref("");
const natural = ref<[number, number]>([3, 2]);
const sharpness = ref(0);
const best = ref(0);
const clipped = ref(0);
const away = ref("");
const spot = ref<[number, number]>([0.5, 0.5]);
const thirds = ref(false);
const level = ref(false);
const stripes = ref(false);
const framed = ref(true);

/** Another shape than the clip's that is looked at. */
const looked = ref("");
/** The part of the view that would be shown. */
const frame = computed(() => frameIn(natural.value, frameShapes[looked.value] ?? props.shape));

let ended = false;

async function look(): Promise<void> {
  while (!ended) {
    const key = props.camera;
    try {
      const seen = await api.liveView(key, spot.value[0], spot.value[1], stripes.value);
      if (key === props.camera) await show(seen);
      away.value = "";
    } catch (error) {
      away.value = error instanceof Problem ? error.message : String(error);
      await rest(900);
    }
    // While it shoots, the camera has better to do.
    await rest(props.calm ? 900 : 120);
  }
}

async function show(seen: Awaited<ReturnType<typeof api.liveView>>): Promise<void> {
  const bitmap = await createImageBitmap(seen.picture);
  natural.value = [bitmap.width, bitmap.height];
  bitmap.close();
  const before = source.value;
  source.value = URL.createObjectURL(seen.picture);
  if (before) URL.revokeObjectURL(before);
  [sharpness.value, clipped.value] = [seen.sharpness, seen.clipped];
  best.value = Math.max(best.value, seen.sharpness);
}

const rest = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

function point(event: MouseEvent): void {
  const { x, y } = placeIn(event.currentTarget as Element, event);
  spot.value = [x, y];
  best.value = 0;
}

function nudge(event: KeyboardEvent): void {
  const by = nudged(event, 0.02);
  if (!by) return;
  const within = (value: number) => Math.min(0.98, Math.max(0.02, value));
  spot.value = [within(spot.value[0] + by.x), within(spot.value[1] + by.y)];
  best.value = 0;
}

watch(
  () => props.camera,
  () => (best.value = 0),
);
void look();
onBeforeUnmount(() => {
  ended = true;
  if (source.value) URL.revokeObjectURL(source.value);
});
</script>

<template>
  <div class="live">
    <div class="mat">
      <div v-if="source" class="view" :style="{ aspectRatio: `${natural[0]} / ${natural[1]}` }">
        <img :src="source" alt="What the camera sees now" draggable="false" />
        <svg viewBox="0 0 1000 1000" preserveAspectRatio="none" aria-hidden="true">
          <path v-if="framed" class="outside" fill-rule="evenodd" :d="outsideOf(frame)" />
          <g v-if="thirds" class="guide">
            <line
              v-for="third in [1, 2]"
              :key="`x${third}`"
              :x1="(frame.x + (frame.width * third) / 3) * 1000"
              :x2="(frame.x + (frame.width * third) / 3) * 1000"
              :y1="frame.y * 1000"
              :y2="(frame.y + frame.height) * 1000"
            />
            <line
              v-for="third in [1, 2]"
              :key="`y${third}`"
              :y1="(frame.y + (frame.height * third) / 3) * 1000"
              :y2="(frame.y + (frame.height * third) / 3) * 1000"
              :x1="frame.x * 1000"
              :x2="(frame.x + frame.width) * 1000"
            />
          </g>
          <line v-if="level" class="level" x1="0" x2="1000" :y1="spot[1] * 1000" :y2="spot[1] * 1000" />
        </svg>
        <button
          type="button"
          class="surface"
          aria-label="Spot whose sharpness is measured; arrow keys move it"
          @click="point"
          @keydown="nudge"
        >
          <span class="spot" :style="{ left: `${spot[0] * 100}%`, top: `${spot[1] * 100}%` }"></span>
        </button>
      </div>
      <p v-if="away" class="away" role="alert">{{ away }}</p>
      <p v-else-if="!source" class="away">Looking through the camera …</p>
    </div>
    <div class="below">
      <span class="sharp">
        sharpness at the spot <meter min="0" max="100" :value="sharpness" aria-label="Sharpness at the spot"></meter>
        <span class="number">{{ sharpness.toFixed(0) }}</span> <span class="quiet">best {{ best.toFixed(0) }}</span>
      </span>
      <span :class="{ warning: clipped > 0.02 }"
        ><span class="number">{{ (clipped * 100).toFixed(1) }} %</span> clipped</span
      >
      <span class="acts">
        <button type="button" class="plain-button" :aria-pressed="framed" @click="framed = !framed">frame</button>
        <select v-if="framed" v-model="looked" aria-label="Shape of the frame that is shown">
          <option value="">the clip's</option>
          <option v-for="(_, one) in frameShapes" :key="one" :value="one">{{ one }}</option>
        </select>
        <button type="button" class="plain-button" :aria-pressed="thirds" @click="thirds = !thirds">thirds</button>
        <button type="button" class="plain-button" :aria-pressed="level" @click="level = !level">level</button>
        <button type="button" class="plain-button" :aria-pressed="stripes" @click="stripes = !stripes">
          show clipped
        </button>
      </span>
    </div>
  </div>
</template>

<style scoped>
.live {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-height: 0;
  min-width: 0;
}

.mat {
  align-items: center;
  background: var(--mat-plain);
  display: grid;
  justify-items: center;
  min-height: 0;
  padding: 1.2rem;
}

.view {
  max-height: 100%;
  max-width: 100%;
  position: relative;
  width: 100%;
}

.view img,
.view svg,
.surface {
  display: block;
  height: 100%;
  inset: 0;
  position: absolute;
  width: 100%;
}

.outside {
  fill: var(--outside-picture);
}

.guide line,
.level {
  stroke: var(--on-picture-soft);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}

.level {
  stroke: var(--saffron);
}

.surface {
  background: none;
  border: 0;
  cursor: crosshair;
  padding: 0;
}

.spot {
  border: 2px solid var(--bright-paper);
  border-radius: 50%;
  box-shadow: 0 0 0 1.5px var(--ink);
  height: 26px;
  margin: -13px;
  position: absolute;
  width: 26px;
}

.away {
  background: var(--bright-paper);
  padding: 0.4rem 0.8rem;
}

.below {
  align-items: center;
  border-top: 1px solid var(--hair);
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1.4rem;
  padding: 0.35rem 1rem;
}

.below .acts {
  margin-left: auto;
}

meter {
  vertical-align: middle;
  width: 6rem;
}
</style>
