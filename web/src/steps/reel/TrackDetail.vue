<script setup lang="ts">
import { computed, ref, shallowRef } from "vue";

import { api, type FitWay, type Track } from "../../api/client";
import NumberField from "../../parts/NumberField.vue";
import { useSentences } from "../../parts/sentences";
import { samples, seconds, useReel } from "./reel";
import TrackCredit from "./TrackCredit.vue";

/** All that is decided about one sound under the reel. */
const props = defineProps<{ track: Track }>();

const reel = useReel();
const { refused } = useSentences();
const ways = shallowRef<FitWay[]>();
const asking = ref(false);

const sound = computed(() => reel.sounds.find((one) => one.id === props.track.sound));

function set(change: Partial<Track>): void {
  ways.value = undefined;
  void reel.decide(reel.changeTrack(props.track.id, change));
}

async function fit(): Promise<void> {
  asking.value = true;
  try {
    ways.value = await api.trackWays(reel.reel!.id, props.track.id, reel.revision);
  } catch (error) {
    refused(error);
  }
  asking.value = false;
}
</script>

<template>
  <div class="detail">
    <p class="acts">
      <button type="button" class="plain-button" :disabled="asking" @click="fit()">
        {{ asking ? "listening to it …" : "fit it to the video …" }}
      </button>
      <button v-if="!track.fade_out" type="button" class="plain-button" @click="set({ fade_out: samples(1) })">
        fade out over the last second
      </button>
      <button type="button" class="plain-button" :aria-pressed="track.muted" @click="set({ muted: !track.muted })">
        silent
      </button>
    </p>
    <ul v-if="ways" class="list" aria-label="Ways to end with the picture">
      <li v-for="way in ways" :key="way.name">
        <span>{{ way.sentence }}</span>
        <span class="acts"
          ><button type="button" class="plain-button" @click="set(way.track)">
            {{ way.name }}
          </button></span
        >
      </li>
      <li v-if="!ways.length" class="quiet">It begins after the video ends.</li>
    </ul>
    <NumberField
      label="begins in the reel at"
      :value="seconds(track.start)"
      :min="0"
      :max="86400"
      :step="0.1"
      :places="3"
      unit=" s"
      @change="set({ start: samples($event) })"
    />
    <NumberField
      label="cut off its beginning"
      :value="seconds(track.skip)"
      :min="0"
      :max="14400"
      :step="0.1"
      :places="3"
      unit=" s"
      @change="set({ skip: samples($event), splices: [] })"
    />
    <NumberField
      label="volume"
      :value="track.gain_db"
      :min="-60"
      :max="24"
      :step="0.5"
      :places="1"
      unit=" dB"
      @change="set({ gain_db: $event })"
    />
    <NumberField
      label="fades in over"
      :value="seconds(track.fade_in)"
      :min="0"
      :max="60"
      :step="0.1"
      :places="2"
      unit=" s"
      @change="set({ fade_in: samples($event) })"
    />
    <NumberField
      label="fades out over"
      :value="seconds(track.fade_out)"
      :min="0"
      :max="60"
      :step="0.1"
      :places="2"
      unit=" s"
      @change="set({ fade_out: samples($event) })"
    />
    <NumberField
      label="steps back under others by"
      :value="track.duck_db"
      :min="0"
      :max="40"
      :step="1"
      :places="1"
      unit=" dB"
      @change="set({ duck_db: $event })"
    />
    <label
      ><input
        type="checkbox"
        :checked="track.repeats"
        @change="set({ repeats: ($event.target as HTMLInputElement).checked, splices: [] })"
      />
      begins again at its end</label
    >
    <TrackCredit v-if="sound" :sound="sound" />
    <p v-if="track.splices.length" class="acts">
      <span class="quiet"
        >made to fit in {{ track.splices.length }} {{ track.splices.length === 1 ? "place" : "places" }}</span
      ><button type="button" class="plain-button" @click="set({ splices: [] })">as it was</button>
    </p>
  </div>
</template>

<style scoped src="./detail.css"></style>
