<script setup lang="ts">
import { computed, ref } from "vue";

import { api } from "../../api/client";
import NumberField from "../../parts/NumberField.vue";
import { useClip } from "../../playback/clip";
import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import { useSteady, type Steady } from "./steady";

const shot = useShot();
const clip = useClip();
const frames = useFrames();
const steady = useSteady();
const ways: { how: Steady["how"]; words: string; says: string }[] = [
  { how: "off", words: "as shot", says: "Stills lie as they were shot." },
  {
    how: "still",
    words: "stand still",
    says: "A tripod in wind, on a bridge, with a knock: nothing but the scene moves.",
  },
  {
    how: "glide",
    words: "glide",
    says: "Carried by hand, or step by step while walking: the way stays, the unrest goes.",
  },
  { how: "hold", words: "hold a point", says: "A spire, a door, a mast stays where it is, while all around it moves." },
];
const now = computed(() => steady.steady);
const found = computed(() => steady.found);
const says = computed(() => ways.find((one) => one.how === now.value.how)!.says);
const rate = computed(() => clip.playback?.frames_per_second ?? 25);
const reference = computed(() => (now.value.reference ? shot.positions.get(now.value.reference) : undefined));
const lean = computed(() => found.value?.lean_deg ?? undefined);
const thin = computed(() => shot.decisions!.pace.thin);
const isPicked = computed(() => thin.value.way === "picked");
const every = ref(3);
const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;
const lengths: { name: "place_over" | "level_over" | "size_over"; words: string }[] = [
  { name: "place_over", words: "place, over" },
  { name: "level_over", words: "level, over" },
  { name: "size_over", words: "size, over" },
];
const isChosen = (strength: number) =>
  now.value.how === "glide" ? now.value.place_over === strength : Math.abs(now.value.share - strength) < 0.005;

function seen(number: number): string {
  const sure = found.value?.sure[number];
  if (!sure) return "not followed yet";
  const many = sure.filter((one) => one > 0).length;
  return `seen in ${many.toLocaleString("en")} of ${sure.length.toLocaleString("en")} stills`;
}

function take(strength: number): void {
  const over = Object.fromEntries(
    lengths.filter(({ name }) => now.value[name] > 0).map(({ name }) => [name, strength]),
  );
  void steady.set(now.value.how === "glide" ? over : { share: strength });
}

const cancel = () => steady.job && api.cancel(steady.job.id);
</script>

<template>
  <section>
    <h2>Steady</h2>
    <p class="acts" role="group" aria-label="How stills are laid against each other">
      <button
        v-for="one in ways"
        :key="one.how"
        type="button"
        class="plain-button"
        :aria-pressed="now.how === one.how"
        @click="steady.choose(one.how)"
      >
        {{ one.words }}
      </button>
    </p>
    <p class="quiet">{{ says }}</p>
    <template v-if="steady.isMeasuring">
      <p class="sentence" role="status">
        Being measured: {{ steady.job!.done.toLocaleString("en") }} of {{ steady.job!.total.toLocaleString("en") }}.
        <button type="button" class="plain-button" @click="cancel">cancel</button>
      </p>
      <progress :value="steady.job!.done" :max="Math.max(1, steady.job!.total)" aria-label="Measured"></progress>
    </template>
    <template v-else-if="now.how !== 'off'">
      <p class="sentence" role="status">{{ found?.sentence }}</p>
      <p v-if="found && !found.is_complete && (now.how !== 'hold' || now.points.length)" class="acts">
        <button type="button" class="plain-button" @click="steady.measure()">measure it now</button>
      </p>
    </template>
  </section>

  <section v-if="now.how === 'hold'">
    <ul aria-label="Points that are held">
      <li v-for="(_, number) in now.points" :key="number">
        <span class="name"
          >{{ number ? "second point" : "point" }}: <span class="quiet">{{ seen(number) }}</span></span
        >
        <button
          type="button"
          class="plain-button"
          :aria-pressed="frames.drawing === 'point' && steady.pointing === number"
          @click="steady.point(number)"
        >
          it is here …
        </button>
        <button
          type="button"
          class="plain-button"
          :aria-label="`forget ${number ? 'the second point' : 'the point'}`"
          @click="steady.forget(number)"
        >
          forget
        </button>
      </li>
    </ul>
    <p v-if="frames.drawing === 'point'" class="note" role="status">
      Click on it in the picture of still {{ shot.shown + 1 }}, or move the cross with the arrow keys and press Enter.
    </p>
    <p class="acts">
      <button v-if="!now.points.length" type="button" class="plain-button" @click="steady.point(0)">
        click on a point …
      </button>
      <button
        v-if="now.points.length === 1"
        type="button"
        class="plain-button"
        title="It keeps level and size as well"
        @click="steady.point(1)"
      >
        and a second one …
      </button>
    </p>
    <template v-if="now.points.length">
      <p class="acts">
        <button
          type="button"
          class="plain-button"
          :aria-pressed="!now.ends"
          @click="steady.set({ begins: null, ends: null })"
        >
          it stays where it is
        </button>
        <button
          type="button"
          class="plain-button"
          :aria-pressed="now.ends !== null"
          @click="steady.set({ ends: now.ends ?? { x: 0.5, y: 0.5 } })"
        >
          it goes to …
        </button>
      </p>
      <template v-if="now.ends">
        <NumberField
          label="across, at the end"
          :value="now.ends.x * 100"
          :min="0"
          :max="100"
          :step="1"
          :places="1"
          unit=" %"
          @change="steady.set({ ends: { ...now.ends, x: $event / 100 } })"
        />
        <NumberField
          label="down, at the end"
          :value="now.ends.y * 100"
          :min="0"
          :max="100"
          :step="1"
          :places="1"
          unit=" %"
          @change="steady.set({ ends: { ...now.ends, y: $event / 100 } })"
        />
      </template>
    </template>
  </section>

  <section v-if="now.how !== 'off' && steady.tradeOffs?.length">
    <h3>What more or less of it costs</h3>
    <ol aria-label="Strength, what is lost of the picture, and what unrest stays">
      <li v-for="one in steady.tradeOffs" :key="one.strength">
        <button type="button" class="plain-button" :aria-pressed="isChosen(one.strength)" @click="take(one.strength)">
          {{ now.how === "glide" ? `${one.strength} stills` : percent(one.strength) }}
        </button>
        <span class="bars" aria-hidden="true"
          ><i class="lost" :style="{ width: `${Math.min(100, (1 - 1 / one.closer) * 250)}%` }"></i
          ><i class="stays" :style="{ width: `${one.stays * 100}%` }"></i
        ></span>
        <span class="number">loses {{ percent(1 - 1 / one.closer) }}</span>
        <span class="number">{{ percent(one.stays) }} stays</span>
      </li>
    </ol>
  </section>

  <section v-if="now.how === 'still'">
    <p class="acts">
      <span class="quiet">onto</span>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="reference === undefined"
        @click="steady.set({ reference: null })"
      >
        the middle of all
      </button>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="reference !== undefined"
        @click="steady.set({ reference: shot.shownStill!.id })"
      >
        {{
          reference === undefined
            ? `still ${shot.shown + 1}`
            : reference === shot.shown
              ? `still ${reference + 1}`
              : `still ${reference + 1}, not ${shot.shown + 1}`
        }}
      </button>
    </p>
    <label class="check"
      ><input type="checkbox" :checked="now.turn" @change="steady.set({ turn: !now.turn })" /> turns go too</label
    >
    <label class="check"
      ><input type="checkbox" :checked="now.size" @change="steady.set({ size: !now.size })" /> changes of size go
      too</label
    >
    <label class="check"
      ><input type="checkbox" :checked="now.perspective" @change="steady.set({ perspective: !now.perspective })" />
      lines that begin to converge go too</label
    >
  </section>

  <section v-if="now.how === 'glide' || (now.how === 'hold' && now.points.length === 1)">
    <template v-for="one in lengths" :key="one.name">
      <NumberField
        v-if="now.how === 'glide' || one.name !== 'place_over'"
        :label="`${one.words} (${(now[one.name] / rate).toFixed(1)} s of the clip)`"
        :value="now[one.name]"
        :min="0"
        :max="3000"
        :step="4"
        unit=" stills"
        @change="steady.set({ [one.name]: $event })"
      />
    </template>
    <template v-if="now.how === 'glide'">
      <p v-if="found?.is_complete && found.proposed !== now.place_over" class="acts">
        <button type="button" class="plain-button" @click="take(found!.proposed)">
          as its swing suggests: {{ found.proposed }} stills
        </button>
      </p>
      <label class="check">
        <input
          type="checkbox"
          :checked="now.most_lost !== null"
          @change="steady.set({ most_lost: now.most_lost === null ? 0.05 : null })"
        />
        lose no more of each edge than
      </label>
      <NumberField
        v-if="now.most_lost !== null"
        label="of the width and height"
        :value="now.most_lost * 100"
        :min="1"
        :max="45"
        :step="1"
        :places="1"
        unit=" %"
        @change="steady.set({ most_lost: $event / 100 })"
      />
      <div class="pick">
        <NumberField
          label="use one of every"
          :value="every"
          :min="2"
          :max="20"
          unit=" stills"
          @change="every = $event"
        />
        <p class="acts">
          <button
            type="button"
            class="plain-button"
            :disabled="!found?.is_complete"
            :aria-pressed="isPicked"
            title="Steps of uneven length then glide"
            @click="shot.change((id, seen) => api.pickStills(id, seen, every))"
          >
            the one that goes on best
          </button>
          <button
            v-if="isPicked"
            type="button"
            class="plain-button"
            @click="shot.decide({ pace: { thin: { ...thin, way: 'all' } } })"
          >
            all of them
          </button>
        </p>
      </div>
    </template>
  </section>

  <section v-if="now.how !== 'off'">
    <label v-if="lean !== undefined && (now.how !== 'hold' || now.points.length < 2)" class="check"
      ><input type="checkbox" :checked="now.upright" @change="steady.set({ upright: !now.upright })" /> keep the horizon
      level: it leans {{ Math.abs(lean).toFixed(1) }}° {{ lean > 0 ? "to the right" : "to the left" }}</label
    >
    <p class="acts">
      <span class="quiet">edges</span>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="now.edges === 'crop'"
        title="Closer, until no still leaves anything empty"
        @click="steady.set({ edges: 'crop' })"
      >
        cropped
      </button>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="now.edges === 'fill'"
        title="What a still leaves empty is taken from the stills before and after, where they have it"
        @click="steady.set({ edges: 'fill' })"
      >
        filled from the stills beside
      </button>
    </p>
    <NumberField
      label="how much of it"
      :value="now.share * 100"
      :min="0"
      :max="100"
      :step="5"
      unit=" %"
      @change="steady.set({ share: $event / 100 })"
    />
  </section>
</template>

<style scoped src="./move.css"></style>
<style scoped>
ol li {
  display: grid;
  gap: 0.5rem;
  grid-template-columns: 4.8rem minmax(1.2rem, 1fr) 5.4rem 6rem;
}

ol .plain-button {
  text-align: left;
}

ol .number {
  font-size: var(--type-tiny);
  text-align: right;
  white-space: nowrap;
}

.bars {
  display: grid;
  gap: 2px;
}

.bars i {
  display: block;
  height: 4px;
  min-width: 1px;
}

.lost {
  background: var(--saffron);
}

.stays {
  background: var(--line);
}

.pick {
  display: grid;
  gap: 0.35rem;
}

.check {
  align-items: center;
  display: flex;
  font-size: var(--type-near);
  gap: 0.5rem;
}

h3 {
  font-size: var(--type-near);
  margin: 0;
}

.note {
  background: var(--saffron-pale);
  border-radius: var(--round);
  padding: 0.3rem 0.6rem;
}

progress {
  accent-color: var(--line);
  height: 6px;
  width: 100%;
}
</style>
