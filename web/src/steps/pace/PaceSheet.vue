<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { useRouter } from "vue-router";

import BlendControl from "./BlendControl.vue";
import HoldControl from "./HoldControl.vue";
import LengthControl from "./LengthControl.vue";
import RateControl from "./RateControl.vue";
import SpeedControl from "./SpeedControl.vue";
import ThinControl from "./ThinControl.vue";
import DirectionControl from "./DirectionControl.vue";
import { useClip } from "../../playback/clip";
import { useShot } from "../../stores/shot";
import StretchSection from "./StretchSection.vue";

const shot = useShot();
const router = useRouter();
const clip = useClip();
const brief = computed(() => shot.brief!);

function next(): void {
  void router.push({ name: "shot", params: { shot: shot.shot!.id, step: "encode" } });
}

defineExpose({ mainAction: next });
</script>

<template>
  <div class="sheet-column">
    <section>
      <h2>Frames per second</h2>
      <RateControl />
    </section>
    <section>
      <h2>How long each still stays</h2>
      <HoldControl />
    </section>
    <section>
      <h2>A wanted length</h2>
      <LengthControl />
    </section>
    <section>
      <h2>Speed over the shot</h2>
      <SpeedControl />
    </section>
    <section>
      <h2>Which stills</h2>
      <ThinControl />
      <DirectionControl />
    </section>
    <StretchSection />
    <section>
      <h2>Between stills</h2>
      <BlendControl />
    </section>
    <section>
      <h2>That makes</h2>
      <dl class="number">
        <dt>stills</dt>
        <dd>{{ brief.stills.toLocaleString("en") }}</dd>
        <dt>frames</dt>
        <dd>{{ brief.frames.toLocaleString("en") }}</dd>
        <dt>length</dt>
        <dd>{{ brief.length }}</dd>
        <dt>timecode</dt>
        <dd :title="clip.playback?.counting">{{ brief.timecode }}</dd>
      </dl>
      <p v-if="brief.clock" class="quiet">{{ brief.clock }}</p>
    </section>
    <div class="go-on"><Button label="Go on to encode" class="main-action" @click="next" /></div>
  </div>
</template>

<style src="../sheet.css"></style>
