<script setup lang="ts">
import { computed } from "vue";

import { addresses } from "../../api/client";
import { useViewModes } from "../viewModes";
import { useShot } from "../../stores/shot";
import { widthFor } from "../picture";
import StagePicture from "../StagePicture.vue";

const props = defineProps<{ width: number }>();

const shot = useShot();
const modes = useViewModes();
const upright = computed(() => shot.decisions!.fit.size.height > shot.decisions!.fit.size.width);
const shownWidth = computed(() => widthFor(props.width / 3, 160, 480));
const three = computed(() =>
  modes.threePositions.map((position, index) => {
    const still = shot.stills.stills[position]!;
    const address = addresses.framed(shot.shot!.id, still, shot.revision, shot.tried, shownWidth.value);
    return { name: ["first", "middle", "last"][index]!, position, address };
  }),
);
</script>

<template>
  <div class="three" :class="{ upright }">
    <figure v-for="one in three" :key="one.name">
      <StagePicture :address="one.address" :words="`The ${one.name} still as the clip shows it`" />
      <figcaption>
        {{ one.name }},
        <button type="button" class="plain-button number" @click="shot.goTo(one.position)">
          still {{ one.position + 1 }}
        </button>
      </figcaption>
    </figure>
  </div>
</template>

<style scoped>
.three {
  align-items: center;
  display: grid;
  gap: 0.8rem;
  grid-template-rows: repeat(3, minmax(0, 1fr));
  height: 100%;
  justify-items: center;
}

.three.upright {
  grid-template-columns: repeat(3, minmax(0, 1fr));
  grid-template-rows: minmax(0, 1fr);
}

figure {
  align-items: center;
  display: flex;
  gap: 0.8rem;
  height: 100%;
  margin: 0;
  min-height: 0;
}

.upright figure {
  flex-direction: column;
  justify-content: center;
}

figcaption {
  background: var(--paper);
  border-radius: var(--round);
  padding: 0.2rem 0.5rem;
  white-space: nowrap;
}

figcaption button {
  color: var(--line);
}
</style>
