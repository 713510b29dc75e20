<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { useRouter } from "vue-router";

import HowControl from "./HowControl.vue";
import LevelControl from "./LevelControl.vue";
import PositionControl from "./PositionControl.vue";
import SizeControl from "./SizeControl.vue";
import { useShot } from "../../stores/shot";
import FinishSection from "./FinishSection.vue";
import LensSection from "./LensSection.vue";
import WholeShotSection from "./WholeShotSection.vue";

const shot = useShot();
const router = useRouter();
const cost = computed(() => shot.brief?.cost);
const lost = computed(() =>
  (["left", "right", "top", "bottom"] as const).map((edge) => ({ edge, text: percent(cost.value?.[edge] ?? 0) })),
);
const scale = computed(() => {
  const by = cost.value?.scale ?? 1;
  if (by > 1.02) return `enlarged ${by.toFixed(2)} ×: soft`;
  return by < 0.98 ? `reduced to ${percent(by)}` : "pixel for pixel";
});

function percent(share: number): string {
  const of = share * 100;
  return `${of === 0 || of >= 10 ? of.toFixed(0) : of.toFixed(1)} %`;
}

function next(): void {
  void router.push({ name: "shot", params: { shot: shot.shot!.id, step: "move" } });
}

defineExpose({ mainAction: next });
</script>

<template>
  <div class="sheet-column">
    <section>
      <h2>Shape and size</h2>
      <SizeControl />
    </section>
    <section>
      <h2>How a still fits</h2>
      <HowControl />
    </section>
    <section>
      <h2>Which part</h2>
      <PositionControl />
      <LevelControl />
    </section>
    <section v-if="cost">
      <h2>What it costs</h2>
      <dl class="number">
        <template v-for="one in lost" :key="one.edge">
          <dt>lost at the {{ one.edge }}</dt>
          <dd>{{ one.text }}</dd>
        </template>
        <dt>stills are</dt>
        <dd>{{ scale }}</dd>
        <dt title="How much closer a later move can go before stills are enlarged">room to push in</dt>
        <dd>{{ cost.push_in > 1.005 ? `${cost.push_in.toFixed(2)} ×` : "none" }}</dd>
      </dl>
    </section>
    <WholeShotSection />
    <LensSection />
    <FinishSection />
    <div class="go-on"><Button label="Go on to move" class="main-action" @click="next" /></div>
  </div>
</template>

<style src="../sheet.css"></style>
