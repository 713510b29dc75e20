<script setup lang="ts">
import Button from "primevue/button";
import { useRouter } from "vue-router";

import HowControl from "../../controls/HowControl.vue";
import PositionControl from "../../controls/PositionControl.vue";
import SizeControl from "../../controls/SizeControl.vue";
import { useShot } from "../../stores/shot";

const shot = useShot();
const router = useRouter();

function next(): void {
  void router.push({ name: "shot", params: { shot: shot.shot!.id, step: "pace" } });
}

defineExpose({ mainAction: next });
</script>

<template>
  <div class="sheet-column">
    <section>
      <h2>Size</h2>
      <SizeControl />
    </section>
    <section>
      <h2>How a still fits</h2>
      <HowControl />
    </section>
    <section>
      <h2>Which part</h2>
      <PositionControl />
    </section>
    <div><Button label="Go on to pace" class="main-action" @click="next" /></div>
  </div>
</template>

<style src="../sheet.css"></style>
